// Tune over a pseudo-terminal: the stand-in answers, a number is changed while it runs, the plug is
// pulled.
#include "app/fixture.hpp"
#include "stages/tune/tune_page.hpp"
#include <QPushButton>

namespace hinge::app {
namespace {

class Tune : public test::WindowTest {
protected:
    LinkSession& session() { return window_->tune()->session(); }
    // Waits on the event loop until something is true; the stand-in runs in real time.
    template <class Condition>
    static bool until(Condition condition, int milliseconds = 20000) {
        return QTest::qWaitFor(condition, milliseconds);
    }
    void connectStandIn() {
        open();
        go(project::Stage::Tune);
        QTest::mouseClick(find<QPushButton>("startStandIn"), Qt::LeftButton);
        ASSERT_TRUE(until([&] { return session().connected() && session().parameters().size() == 4 && window_->findChild<QPushButton*>("cue_0") != nullptr && window_->findChild<QPushButton*>("cue_0")->isVisible(); })) << session().status().toStdString();
        // At power-up a guard counts as active until its input has been steady: no cue starts before.
        ASSERT_TRUE(until([&] { return session().telemetry().size() > 60; })) << "0.3 s of the board's time";
    }
};

TEST_F(Tune, saysWhatItRunsOnAndListsTheNumbers) {
    connectStandIn();
    EXPECT_TRUE(session().status().contains("emulated board") || session().status().contains("interpreter"));
    EXPECT_TRUE(session().status().contains("time is lost"));
    EXPECT_NE(window_->findChild<QLineEdit*>("param_rain_run"), nullptr);
    EXPECT_TRUE(until([&] { return session().telemetry().size() > 50; })) << "telemetry arrives";
}

TEST_F(Tune, changesTheRunTimeWhileItRuns) {
    connectStandIn();
    type("param_rain_run", "400");
    ASSERT_TRUE(until([&] { return session().value("rain_run") == 400; }));
    QTest::mouseClick(find<QPushButton>("cue_0"), Qt::LeftButton);
    ASSERT_TRUE(until([&] { return session().last().cues != 0; }));
    ASSERT_TRUE(until([&] { return session().last().cues == 0; }));
    double on = 0.0, from = -1.0;
    const auto& telemetry = session().telemetry();
    for (std::size_t i = 0; i < telemetry.size(); ++i) {
        const bool runs = telemetry.value(0, i) > 0.0F;
        if (runs && from < 0.0) from = telemetry.time(i);
        if (!runs && from >= 0.0) on += telemetry.time(i) - from, from = -1.0;
    }
    EXPECT_NEAR(on, 0.4, 0.011) << "two samples of 5 ms";
    QTest::mouseClick(find<QPushButton>("keepRun"), Qt::LeftButton);
    EXPECT_EQ(document_->model().project.journal.entries.back().kind, journal::EntryKind::Run);
    EXPECT_NE(document_->model().project.journal.entries.back().settings.find("rain_run 400 ms"), std::string::npos);
}

TEST_F(Tune, refusesANumberOutOfRange) {
    connectStandIn();
    const auto before = session().value("rain_duty");
    type("param_rain_duty", "2000");
    EXPECT_TRUE(session().status().contains("from 0 to 1000"));
    EXPECT_EQ(session().value("rain_duty"), before);
}

TEST_F(Tune, theSpaceBarStopsEverything) {
    connectStandIn();
    QTest::mouseClick(find<QPushButton>("cue_0"), Qt::LeftButton);
    ASSERT_TRUE(until([&] { return session().last().cues != 0; })) << session().status().toStdString();
    QTest::keyClick(window_.get(), Qt::Key_Space);
    EXPECT_TRUE(until([&] { return session().last().stopped && session().last().cues == 0; }));
}

TEST_F(Tune, aPulledPlugIsSaidOnceAndThePlotStays) {
    connectStandIn();
    ASSERT_TRUE(until([&] { return session().telemetry().size() > 100; }));
    const auto samples = session().telemetry().size();
    session().board()->unplug();
    ASSERT_TRUE(until([&] { return !session().isOpen(); }));
    EXPECT_TRUE(session().status().contains("The port has gone"));
    EXPECT_GE(session().telemetry().size(), samples);
    EXPECT_NE(window_->findChild<QPushButton*>("connectPort"), nullptr) << "reconnecting is offered";
    QTest::mouseClick(find<QPushButton>("startStandIn"), Qt::LeftButton);
    EXPECT_TRUE(until([&] { return session().connected(); }));
}

TEST_F(Tune, aPortThatIsNotThereIsNamed) {
    open();
    go(project::Stage::Tune);
    session().connectTo("/dev/nothing-here");
    EXPECT_TRUE(session().status().contains("nothing-here"));
    EXPECT_FALSE(session().isOpen());
}

}  // namespace
}  // namespace hinge::app

int main(int argc, char** argv) {
    QApplication application(argc, argv);
    QApplication::setOrganizationName("hinge-spark-test");
    QApplication::setApplicationName("hinge-spark-test");
    hinge::app::loadFonts();
    testing::InitGoogleTest(&argc, argv);
    return RUN_ALL_TESTS();
}
