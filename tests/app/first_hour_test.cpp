// The first hour: from nothing to a gadget that runs on the emulated board, by what a newcomer sees and presses, each press counted.
#include <QPushButton>
#include "app/talking.hpp"
#include "shell/stage_bar.hpp"

namespace hinge::app {
namespace {

// Presses of a mouse button and of keys that arrive at a widget of the window.
class Presses final : public QObject {
public:
    explicit Presses(QWidget* window) : window_(window) { qApp->installEventFilter(this); }
    int count = 0;

protected:
    bool eventFilter(QObject* to, QEvent* event) override {
        const bool press = event->type() == QEvent::MouseButtonPress || event->type() == QEvent::KeyPress;
        if (press && to == window_->windowHandle()) ++count;
        return false;
    }

private:
    QWidget* window_;
};

class FirstHour : public test::TalkingTest, public testing::WithParamInterface<std::tuple<const char*, const char*>> {
protected:
    // As a hand does it: at the window, where the widget is.
    void click(QWidget* on, QPoint at) {
        ASSERT_NE(on, nullptr);
        ASSERT_TRUE(on->isVisible()) << on->objectName().toStdString();
        ASSERT_TRUE(on->visibleRegion().contains(at)) << on->objectName().toStdString() << " is not in sight";
        QTest::mouseClick(window_->windowHandle(), Qt::LeftButton, {}, on->mapTo(window_.get(), at));
    }
    void click(QWidget* on) { click(on, on != nullptr ? on->rect().center() : QPoint()); }
};

TEST_P(FirstHour, aNewcomerRunsItWithinTenPresses) {
    const char *starter = std::get<0>(GetParam()), *cue = std::get<1>(GetParam());
    open();
    window_->show();
    ASSERT_TRUE(QTest::qWaitForWindowExposed(window_.get()));
    Presses presses(window_.get());
    QTest::keyClick(window_->windowHandle(), Qt::Key_N, Qt::ControlModifier);
    ASSERT_TRUE(document_->model().project.channels.empty());
    ASSERT_TRUE(until([&] { return find<QPushButton>(QString("begin_") + starter)->isVisible(); }));
    click(find<QPushButton>(QString("begin_") + starter));
    ASSERT_EQ(document_->model().project.channels.size(), 1U);
    document_->settle();
    EXPECT_EQ(document_->model().plan.headline.breaks, 0);
    auto* stages = find<StageBar>("stages");
    for (const auto& spot : stages->spots())
        if (spot.name == "Tune") click(stages, spot.place.center());
    click(find<QPushButton>("startStandIn"));
    ASSERT_TRUE(until([&] {
        const auto* made = window_->findChild<QPushButton*>("cue_0");
        return session().connected() && made != nullptr && made->isVisible() && session().telemetry().size() > 60;
    })) << session().status().toStdString();
    EXPECT_TRUE(find<QPushButton>("cue_0")->text().contains(cue)) << find<QPushButton>("cue_0")->text().toStdString();
    click(find<QPushButton>("cue_0"));
    EXPECT_TRUE(until([&] { return session().last().cues != 0; })) << "it runs";
    EXPECT_LE(presses.count, 10) << starter;
    EXPECT_EQ(presses.count, 5) << starter << ": as the handbook says";
    // Begun by mistake: one undo takes it back.
    document_->undo();
    EXPECT_TRUE(document_->model().project.channels.empty());
}

INSTANTIATE_TEST_SUITE_P(Three, FirstHour, testing::Values(std::tuple{"pump", "Pump"}, std::tuple{"arm", "Arm"}, std::tuple{"fan", "Fan"}),
                         [](const auto& which) { return std::string{std::get<0>(which.param)}; });

}  // namespace
}  // namespace hinge::app
