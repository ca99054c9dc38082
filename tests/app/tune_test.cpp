// Tune over a pseudo-terminal: the stand-in answers, a number is changed while it runs, the plug is
// pulled.
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include "app/talking.hpp"
#include "simulation/interpreted_board.hpp"
#include "stages/tune/gain_track.hpp"
#include "stages/tune/tune_page.hpp"

namespace hinge::app {
namespace {

class Tune : public test::TalkingTest {
protected:
    void connectStandIn() {
        open();
        go(project::Stage::Tune);
        QTest::mouseClick(find<QPushButton>("startStandIn"), Qt::LeftButton);
        ASSERT_TRUE(until([&] {
            return session().connected() && session().parameters().size() == 4 && window_->findChild<QPushButton*>("cue_0") != nullptr &&
                   window_->findChild<QPushButton*>("cue_0")->isVisible();
        })) << session().status().toStdString();
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

// An ATtiny85 has no link: the interpreter stands in for it at once, and the page says so.
TEST_F(Tune, aChipWithoutALinkHasTheInterpreter) {
    open();
    const QString problem = document_->apply(std::vector<project::FactEdit>{{"board/form", "attiny85-8mhz"},
                                                                            {"channels/rain/pin", "PB0"},
                                                                            {"channels/rain/signal/frequency", "488.28125 Hz"},
                                                                            {"inputs/start/pin", "PB2"},
                                                                            {"inputs/tank_empty/pin", "PB3"},
                                                                            {"routine/cues/storm/times", ""}});
    ASSERT_TRUE(problem.isEmpty()) << problem.toStdString();
    go(project::Stage::Tune);
    QTest::mouseClick(find<QPushButton>("startStandIn"), Qt::LeftButton);
    ASSERT_TRUE(until([&] { return session().connected() && session().parameters().size() == 4; })) << session().status().toStdString();
    EXPECT_TRUE(session().status().contains("interpreter")) << session().status().toStdString();
    EXPECT_TRUE(session().status().contains("This chip has no link")) << session().status().toStdString();
}
// A radio on a line of its own stands beside the emulated board: what is said there is answered there, by what it may do.
TEST_F(Tune, isSpokenToByRadio) {
    open();
    const QString problem = document_->apply(std::vector<project::FactEdit>{
        {"board/radio", "yes"}, {"board/radio_apart", "yes"}, {"board/radio_in_pin", "D3"}, {"board/radio_out_pin", "D4"}});
    ASSERT_TRUE(problem.isEmpty()) << problem.toStdString();
    go(project::Stage::Tune);
    EXPECT_EQ(window_->findChild<QLineEdit*>("radioLine"), nullptr) << "nothing to speak to yet";
    QTest::mouseClick(find<QPushButton>("startStandIn"), Qt::LeftButton);
    ASSERT_TRUE(until([&] { return session().connected() && window_->findChild<QLineEdit*>("radioLine") != nullptr; }))
        << session().status().toStdString();
    if (!session().status().contains("emulated board")) GTEST_SKIP() << "the compiler is not installed: ./check installs it";
    const auto answered = [&](const char* line, const QString& with) {
        auto* field = find<QLineEdit>("radioLine");
        field->setText(line);
        QTest::keyClick(field, Qt::Key_Return);
        return until([&] { return find<QLabel>("radioAnswer")->text().contains(with); });
    };
    EXPECT_TRUE(answered("hello", "hello hinge-spark")) << find<QLabel>("radioAnswer")->text().toStdString();
    EXPECT_TRUE(answered("list", "error not by radio")) << find<QLabel>("radioAnswer")->text().toStdString();
    EXPECT_TRUE(answered("stop", "ok stop")) << find<QLabel>("radioAnswer")->text().toStdString();
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

// ---- The turntable's loop, from silence to its target ----------------------------------------------

class TuneLoop : public Tune {
protected:
    TunePage& page() { return *window_->tune(); }
    void openStage(const char* demo, const char* channel, const std::vector<project::FactEdit>& edits = {}) {
        start();
        std::filesystem::copy_file(std::string{HINGE_SOURCE_DIR "/demos/"} + demo + "/project.json", folder_.path() / "project.json",
                                   std::filesystem::copy_options::overwrite_existing);
        ASSERT_TRUE(window_->openFolder(QString::fromStdString(folder_.path().string())));
        if (!edits.empty()) ASSERT_TRUE(document_->apply(edits).isEmpty());
        document_->settle();
        window_->go(channel, static_cast<int>(project::Stage::Tune));
    }
    void startBoard() {
        QTest::mouseClick(find<QPushButton>("startStandIn"), Qt::LeftButton);
        ASSERT_TRUE(until(
            [&] {
                return session().connected() && session().telemetry().size() > 60 && !session().parameters().empty() &&
                       window_->findChild<QPushButton*>("askStep") != nullptr;
            },
            40000))
            << session().status().toStdString();
        ASSERT_TRUE(
            until([&] { return session().value("spin_speed_wanted").has_value() || session().value("left_upright_wanted").has_value(); }));
    }
    void askForAStep() {
        const auto before = page().trials().size();
        QTest::mouseClick(find<QPushButton>("askStep"), Qt::LeftButton);
        ASSERT_TRUE(session().recording()) << session().status().toStdString();
        ASSERT_TRUE(until([&] { return !session().recording() && page().trials().size() == before + 1; }, 40000));
        page().settle();
    }
};

TEST_F(TuneLoop, theTurntableIsBroughtFromSilenceToItsTarget) {
    openStage("paper-moon-stage", "turntable",
              {{"routine/loops/spin_speed/proportional", "0"}, {"routine/loops/spin_speed/integral", "0"}});
    EXPECT_EQ(page().view(), TunePage::View::Response) << "a channel with a loop opens on its response";
    EXPECT_FALSE(find<QPushButton>("askStep")->isEnabled()) << "nothing is connected";
    startBoard();
    askForAStep();
    EXPECT_TRUE(page().response()->view().matter.contains("hardly moves")) << page().response()->view().matter.toStdString();
    // By hand, as a maker begins: a little P on its track.
    auto* track = find<GainTrack>("track_P");
    track->setFocus();
    for (int i = 0; i < 30; ++i) QTest::keyClick(track, Qt::Key_Right);
    EXPECT_GT(page().gains().proportional, 0.0);
    ASSERT_TRUE(until([&] { return session().value("spin_speed_proportional").value_or(0) > 0; })) << "it is sent as it is moved";
    // Then gains by search, sent to the board, and another step.
    page().search(control::Cost::Calm);
    page().settle();
    const auto found = page().gains();
    EXPECT_GT(found.integral, 0.0);
    ASSERT_TRUE(until([&] {
        return session().value("spin_speed_integral").value_or(0) == static_cast<int>(std::lround(found.integral * 0.06 * 1000.0 * 256.0));
    }));
    askForAStep();
    const auto rows = rowsOf(page().trials().back());
    const auto response = control::readResponse(rows, {1.0, 0.05});
    ASSERT_TRUE(response && response->settled) << page().response()->view().matter.toStdString();
    EXPECT_LE(*response->settled, 1.0);
    EXPECT_LE(response->overshoot, 0.1) << "two counts of 21";
    EXPECT_TRUE(page().sentence().contains("settles in")) << page().sentence().toStdString();
    // Both runs lie in the project's folder; the second is the best, and one key brings its gains back.
    const auto kept = store::readTrials(folder_.path());
    EXPECT_EQ(kept.list.size(), 2U);
    EXPECT_TRUE(kept.problems.empty());
    page().setGain('P', 0.0);
    page().setGain('I', 0.0);
    QTest::keyClick(window_.get(), Qt::Key_B);
    EXPECT_NEAR(page().gains().proportional, found.proportional, 1e-6);
    EXPECT_NEAR(page().gains().integral, found.integral, 1e-3);
    QTest::mouseClick(find<QPushButton>("keepGains"), Qt::LeftButton);
    EXPECT_NEAR(si(document_->model().project.routine.loops.front().proportional), found.proportional * 1000.0, 1e-6);
    document_->undo();
    EXPECT_EQ(si(document_->model().project.routine.loops.front().proportional), 0.0) << "one undo";
}

TEST_F(TuneLoop, aPlugPulledHalfWayLosesNothing) {
    openStage("paper-moon-stage", "turntable");
    startBoard();
    QTest::mouseClick(find<QPushButton>("askStep"), Qt::LeftButton);
    ASSERT_TRUE(until([&] { return session().trial().rows.size() > 12; }));
    const auto seen = session().trial().rows.size();
    session().board()->unplug();
    ASSERT_TRUE(until([&] { return !session().isOpen(); }));
    EXPECT_FALSE(session().recording());
    const auto kept = store::readTrials(folder_.path());
    ASSERT_EQ(kept.list.size(), 1U);
    EXPECT_GE(kept.list.front().rows.size(), seen);
    EXPECT_TRUE(session().status().contains("The port has gone"));
}

TEST_F(TuneLoop, spaceStopsWhateverHasTheFocus) {
    openStage("paper-moon-stage", "turntable");
    startBoard();
    const int output = session().outputOf("turntable");
    session().drive(output, 600);
    ASSERT_TRUE(until([&] { return session().last().levels[static_cast<std::size_t>(output)] > 0; }));
    find<QPushButton>("tuneStrip")->setFocus();
    QTest::keyClick(find<QPushButton>("tuneStrip"), Qt::Key_Space);
    EXPECT_NE(page().view(), TunePage::View::Strip) << "space stops; it does not press";
    ASSERT_TRUE(until([&] { return session().last().levels[static_cast<std::size_t>(output)] == 0 && session().last().stopped; }));
    EXPECT_FALSE(session().drives(output)) << "and the hand has let go";
}

TEST_F(TuneLoop, whatRunsAwayIsStoppedAndSaid) {
    openStage("paper-moon-stage", "turntable");
    startBoard();
    session().change("spin_speed_forward", "25600");  // 100 permille ahead for each count wanted: full power, whatever the tach says
    ASSERT_TRUE(until([&] { return session().value("spin_speed_forward") == 25600; }));
    QTest::mouseClick(find<QPushButton>("askStep"), Qt::LeftButton);
    ASSERT_TRUE(until([&] { return session().recording(); }));
    ASSERT_TRUE(until([&] { return !session().recording(); }));
    EXPECT_TRUE(session().status().contains("It ran away")) << session().status().toStdString();
    const int output = session().outputOf("turntable");
    EXPECT_TRUE(until([&] { return session().last().stopped && session().last().levels[static_cast<std::size_t>(output)] == 0; }));
}

TEST_F(TuneLoop, anOpenStepOfTheBoardLeadsToGains) {
    openStage("paper-moon-stage", "turntable",
              {{"routine/loops/spin_speed/proportional", "0"}, {"routine/loops/spin_speed/integral", "0"}});
    startBoard();
    QTest::mouseClick(find<QPushButton>("byStep"), Qt::LeftButton);
    ASSERT_TRUE(session().recording());
    ASSERT_TRUE(until([&] { return !session().recording() && page().gains().integral > 0.0; }, 40000));
    page().settle();
    // By hand: at half power the disc comes to about 21 counts: 42 for all of it; its time constant is 0.11 s, and the period's half is its
    // dead time.
    const auto kept = store::readTrials(folder_.path());
    ASSERT_EQ(kept.list.size(), 1U);
    EXPECT_EQ(kept.list.front().kind, "open");
    EXPECT_NEAR(kept.list.front().rows.back().reading, 21.0, 2.0);
    EXPECT_TRUE(page().sentence().contains("settles in")) << page().sentence().toStdString();
    EXPECT_TRUE(page().trials().empty()) << "it is no trial of the loop";
}

TEST_F(TuneLoop, theHandIsRenewedUntilItLetsGo) {
    openStage("paper-moon-stage", "turntable");
    startBoard();
    const int output = session().outputOf("turntable");
    const auto level = [&] { return session().last().levels[static_cast<std::size_t>(output)]; };
    session().drive(output, 600);
    ASSERT_TRUE(until([&] { return level() > 0; }));
    const auto from = session().last().time_ms;
    ASSERT_TRUE(until([&] { return session().last().time_ms > from + 2500; })) << "longer than a hand that is not renewed";
    EXPECT_GT(level(), 0);
    session().letGo(output);
    EXPECT_TRUE(until([&] { return level() == 0; }));
}

TEST_F(TuneLoop, whatIsTypedAsAGainMustBeANumber) {
    openStage("paper-moon-stage", "turntable");
    const auto before = page().gains();
    for (const char* bad : {"nan", "inf", "1e999", "much", ""}) {
        type("gain_P", bad);
        EXPECT_EQ(page().gains(), before) << bad;
    }
    type("gain_P", "250");
    EXPECT_NEAR(page().gains().proportional, 0.1, 1e-9) << "held at what the sketch can keep: 100 permille a count";
}

TEST_F(TuneLoop, tracksShowWhereTheLoopStillHolds) {
    openStage("paper-moon-stage", "turntable");
    page().settle();
    auto* track = find<GainTrack>("track_P");
    const auto [from, to] = track->holds();
    EXPECT_LE(from, track->value());
    EXPECT_GE(to, track->value());
}

TEST_F(TuneLoop, eachWayToTuneLeadsToGainsThatHold) {
    openStage("paper-moon-stage", "turntable",
              {{"routine/loops/spin_speed/proportional", "0"}, {"routine/loops/spin_speed/integral", "0"}});
    for (const char* way : {"byStep", "byRelay"}) {
        QTest::mouseClick(find<QPushButton>(way), Qt::LeftButton);
        page().settle();
        EXPECT_GT(page().gains().proportional, 0.0) << way;
        EXPECT_TRUE(page().sentence().contains("settles")) << way << page().sentence().toStdString();
    }
    page().setGain('P', 0.0), page().setGain('I', 0.0), page().setGain('D', 0.0);
    for (int k = 0; k < 40; ++k) {
        QTest::mouseClick(find<QPushButton>("leadMe"), Qt::LeftButton);
        page().settle();
    }
    EXPECT_TRUE(page().response()->view().settled.has_value()) << page().sentence().toStdString();
}

TEST_F(TuneLoop, theRiderStandsAfterAShove) {
    openStage("tightrope-rider", "left");
    EXPECT_TRUE(page().sentence().contains("stands")) << page().sentence().toStdString();
    startBoard();
    askForAStep();
    EXPECT_TRUE(page().sentence().contains("stands")) << page().sentence().toStdString();
    // Gains of nothing: it falls, and that is said.
    page().setGain('P', 0.0);
    page().setGain('I', 0.0);
    page().settle();
    EXPECT_TRUE(page().sentence().contains("falls")) << page().sentence().toStdString();
}

// A sketch of another gadget on the port: looked at and stopped, nothing else.
TEST_F(TuneLoop, anotherGadgetsSketchIsLeftAlone) {
    openStage("paper-moon-stage", "turntable");
    const auto parts = document_->model().parts;
    const auto other = store::load(HINGE_SOURCE_DIR "/demos/proofing-box")->project;
    const auto plan = plan::evaluate(other, parts);
    LiveBoard board(
        std::make_unique<simulation::InterpretedBoard>(*plan.program, *plan::plantsOf(other, parts, plan), other.brief.name, "12345678"));
    board.start();
    session().connectTo(board.port());
    ASSERT_TRUE(until([&] { return session().connected() && session().foreign(); }));
    EXPECT_TRUE(session().status().contains("Proofing Box")) << session().status().toStdString();
    session().send(link::StartCue{0});
    EXPECT_TRUE(session().status().contains("nothing is sent to it but stop")) << session().status().toStdString();
    ASSERT_TRUE(until([&] { return session().misfits() > 20; })) << "its telemetry has another width";
    EXPECT_TRUE(session().telemetry().empty());
    EXPECT_TRUE(session().status().contains("another width"));
    EXPECT_EQ(board.observe().duty[1], 0.0) << "its fan, that a cue starts; its mat keeps itself warm";
    EXPECT_FALSE(window_->findChild<QPushButton*>("askStep")->isEnabled());
}

TEST_F(TuneLoop, twoWindowsOnOnePortAreRefused) {
    openStage("paper-moon-stage", "turntable");
    startBoard();
    LinkSession second(document_.get());
    second.connectTo(session().portName().startsWith('/') ? session().portName() : "/dev/" + session().portName());
    EXPECT_FALSE(second.isOpen());
    EXPECT_TRUE(second.status().contains("no other window has it")) << second.status().toStdString();
    EXPECT_TRUE(session().isOpen());
}

TEST_F(TuneLoop, garbageOnTheLineIsContained) {
    openStage("paper-moon-stage", "turntable");
    class Noise final : public plant::StandIn {
    public:
        [[nodiscard]] std::string what() const override { return "noise"; }
        void advance(double) override {}
        void write(std::string_view) override {}
        [[nodiscard]] std::string read() override {
            std::string bytes;
            for (int i = 0; i < 200; ++i) bytes += static_cast<char>((state_ = state_ * 1103515245U + 12345U) >> 16);
            return bytes;
        }
        void setInput(int, bool) override {}
        void setReading(int, int) override {}
        void setRate(int, double) override {}
        void cutPower() override {}
        [[nodiscard]] plant::Observation observe() const override { return {}; }
        void fit(plant::Bench) override {}
        void disturb(int, double) override {}
        [[nodiscard]] const std::vector<plant::Edge>& edges() const override { return edges_; }

    private:
        std::uint32_t state_ = 7;
        std::vector<plant::Edge> edges_;
    };
    LiveBoard board(std::make_unique<Noise>());
    board.start();
    session().connectTo(board.port());
    QTest::qWait(1500);
    EXPECT_TRUE(session().isOpen());
    EXPECT_FALSE(session().connected()) << "nobody has said hello";
    EXPECT_TRUE(session().status().contains("nothing has answered yet")) << session().status().toStdString();
}

// ---- Calibration and practice -----------------------------------------------------------------------

TEST_F(TuneLoop, theServosEndsAreFoundWithItsHornOff) {
    openStage("paper-moon-stage", "moon");
    QTest::mouseClick(find<QPushButton>("startStandIn"), Qt::LeftButton);
    ASSERT_TRUE(until([&] { return session().connected() && session().telemetry().size() > 60; }, 40000));
    QTest::mouseClick(find<QPushButton>("tuneCalibrate"), Qt::LeftButton);
    QTest::mouseClick(find<QPushButton>("calibrate_servo-ends"), Qt::LeftButton);
    QTest::mouseClick(find<QPushButton>("calibrationNext"), Qt::LeftButton);
    const int output = session().outputOf("moon");
    const auto strains = [&] {
        const auto seen = session().machineOf(output);
        return seen && seen->troubled;
    };
    std::vector<double> ends;
    for (const int way : {-1, 1}) {
        auto* slider = find<QSlider>("calibrationNudge");
        ASSERT_TRUE(until([&] { return session().machineOf(output) && session().machineOf(output)->current > 0.0; }));
        while (!strains() && slider->value() > slider->minimum() && slider->value() < slider->maximum()) {
            slider->setValue(slider->value() + way * 40);
            QTest::qWait(120);
        }
        slider->setValue(slider->value() - way * 60);
        QTest::qWait(400);
        EXPECT_FALSE(strains());
        ends.push_back(slider->value() * 0.5e-6);
        QTest::mouseClick(find<QPushButton>("calibrationTake"), Qt::LeftButton);
    }
    QTest::mouseClick(find<QPushButton>("calibrationNext"), Qt::LeftButton);
    const auto kept = project::findChannel(document_->model().project, "moon")->calibration;
    ASSERT_TRUE(kept.pulse_min && kept.pulse_max);
    EXPECT_NEAR(si(*kept.pulse_min), ends[0], 1e-9);
    EXPECT_NEAR(si(*kept.pulse_max), ends[1], 1e-9);
    EXPECT_LT(si(*kept.pulse_min), si(*kept.pulse_max));
    document_->undo();
    EXPECT_NE(project::findChannel(document_->model().project, "moon")->calibration, kept) << "one undo for the whole run";
}

TEST_F(TuneLoop, practiceAnswersAtOnceAndHintsCost) {
    openStage("paper-moon-stage", "turntable");
    QTest::mouseClick(find<QPushButton>("tunePractice"), Qt::LeftButton);
    page().chooseExercise(0);
    page().settle();
    EXPECT_FALSE(page().score().met);
    page().setGain('P', 0.009);
    page().setGain('I', 0.11);
    page().settle();
    EXPECT_TRUE(page().score().met) << page().score().words.matter;
    const int without = page().score().points;
    QTest::mouseClick(find<QPushButton>("hint"), Qt::LeftButton);
    page().settle();
    EXPECT_EQ(page().score().points, without - 5);
    EXPECT_FALSE(session().isOpen()) << "no board is needed";
    EXPECT_TRUE(document_->model().project == document_->saved()) << "and nothing of the project is touched";
}

TEST_F(TuneLoop, theResponseIsMeasuredByTheMouse) {
    openStage("paper-moon-stage", "turntable");
    page().settle();
    auto* picture = page().response();
    QTest::qWait(60);
    QTest::mousePress(picture, Qt::LeftButton, Qt::NoModifier, picture->rect().center() - QPoint(100, 60));
    QMouseEvent move(QEvent::MouseMove, QPointF(picture->rect().center()), picture->mapToGlobal(QPointF(picture->rect().center())),
                     Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(picture, &move);
    EXPECT_TRUE(picture->measured().contains("rpm")) << picture->measured().toStdString();
    EXPECT_TRUE(picture->measured().contains(" s"));
}

}  // namespace
}  // namespace hinge::app

int main(int argc, char** argv) {
    QApplication application(argc, argv);
    QApplication::setOrganizationName("hinge-spark-test");
    QApplication::setApplicationName("hinge-spark-test");
    hinge::app::loadFonts();
    hinge::app::installSpots();
    testing::InitGoogleTest(&argc, argv);
    return RUN_ALL_TESTS();
}
