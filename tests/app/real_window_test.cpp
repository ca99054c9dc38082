// What a real window shows, and what an assistive program finds in it. Run once more under Xvfb, with a desktop whose own fonts are
// others (tests/CMakeLists.txt, app_real_window).
#include <QAccessible>
#include <QFile>
#include <QFontDatabase>
#include <QFontInfo>
#include <QLabel>
#include <QScrollArea>
#include <QScrollBar>
#include "app/fixture.hpp"
#include "pictures/spots.hpp"
#include "shell/about.hpp"
#include "shell/channel_edge.hpp"
#include "shell/stage_bar.hpp"
#include "stages/match/match_page.hpp"

namespace hinge::app {
namespace {

class RealWindow : public test::WindowTest {
protected:
    void SetUp() override { QAccessible::setActive(true); }
    /// Every stage of the first channel, the brief and the crossbar, one after the other.
    void everyView(const std::function<void(const QString&)>& look) {
        window_->showCrossbar();
        QApplication::processEvents();
        look("crossbar");
        for (int stage = 0; stage < project::stageCount; ++stage) {
            window_->go(text(document_->model().project.channels.front().id), stage);
            for (int k = 0; k < 5; ++k) QApplication::processEvents();
            look(text(labelOf(static_cast<project::Stage>(stage))));
        }
        window_->go({}, 0);
        QApplication::processEvents();
        look("brief");
    }
    void walk(QAccessibleInterface* at, const std::function<void(QAccessibleInterface*)>& visit) {
        visit(at);
        for (int k = 0; k < at->childCount(); ++k)
            if (auto* child = at->child(k); child != nullptr && !child->state().invisible) walk(child, visit);
    }
    QAccessibleInterface* spotNamed(SpotWidget* widget, const QString& name) {
        auto* at = QAccessible::queryAccessibleInterface(widget);
        for (int k = 0; k < at->childCount(); ++k)
            if (at->child(k)->text(QAccessible::Name) == name) return at->child(k);
        return nullptr;
    }
};

// One font everywhere, whatever the desktop's own is: what is resolved for each visible widget, not what was asked for.
TEST_F(RealWindow, hasOneFontEverywhere) {
    openCopy("demos/paper-moon-stage");
    const QString house = QFontInfo(textFont(Text::Body)).family(), mono = QFontInfo(textFont(Text::Mono)).family();
    EXPECT_TRUE(house.startsWith("B612")) << house.toStdString();
    // Under Xvfb the desktop has another, so that this can fail.
    if (QGuiApplication::platformName() == "xcb") EXPECT_EQ(QFontDatabase::systemFont(QFontDatabase::GeneralFont).family(), "DejaVu Serif");
    int seen = 0;
    everyView([&](const QString& view) {
        for (auto* each : window_->findChildren<QWidget*>()) {
            if (!each->isVisible()) continue;
            ++seen;
            const QString family = QFontInfo(each->font()).family();
            EXPECT_TRUE(family == house || family == mono) << view.toStdString() << ": " << each->metaObject()->className() << " "
                                                           << each->objectName().toStdString() << " in " << family.toStdString();
        }
    });
    EXPECT_GT(seen, 500);
    // What opens beside the window: a menu, a list that drops down, a tool-tip.
    QMenu menu;
    menu.addAction("x");
    menu.ensurePolished();
    EXPECT_EQ(QFontInfo(menu.font()).family(), house);
    for (const char* kind :
         {"QPushButton", "QLineEdit", "QComboBox", "QMenu", "QToolTip", "QTableWidget", "QCheckBox", "QLabel", "QHeaderView", "QTipLabel"})
        EXPECT_EQ(QFontInfo(QApplication::font(kind)).family(), house) << kind;
}

// Whatever takes the keyboard or is painted to be pointed at has a name.
TEST_F(RealWindow, everythingThatIsUsedHasAName) {
    openCopy("demos/paper-moon-stage");
    std::set<QString> nameless;
    int named = 0, spots = 0;
    everyView([&](const QString& view) {
        walk(QAccessible::queryAccessibleInterface(window_.get()), [&](QAccessibleInterface* at) {
            const auto role = at->role();
            const bool used = role == QAccessible::Button || role == QAccessible::EditableText || role == QAccessible::ComboBox ||
                              role == QAccessible::CheckBox || role == QAccessible::Slider || role == QAccessible::SpinBox;
            if (at->object() == nullptr && at->parent() != nullptr && dynamic_cast<SpotWidget*>(at->parent()->object()) != nullptr) ++spots;
            if (!used) return;
            if (!at->text(QAccessible::Name).trimmed().isEmpty()) return void(++named);
            const auto* object = at->object();
            nameless.insert(view + ": " +
                            (object != nullptr ? QString(object->metaObject()->className()) + " " + object->objectName() : "a spot"));
        });
    });
    // A fact's field is read out by its label.
    go(project::Stage::Feed);
    EXPECT_EQ(QAccessible::queryAccessibleInterface(find<QCheckBox>("channels/rain/drive/flyback_diode"))->text(QAccessible::Name),
              "Flyback diode fitted");
    go(project::Stage::Need);
    for (const auto& fact : project::facts(document_->model().project))
        if (fact.path == "channels/rain/demand/lift")
            EXPECT_EQ(QAccessible::queryAccessibleInterface(find<QLineEdit>("channels/rain/demand/lift"))->text(QAccessible::Name),
                      text(fact.label));
    for (const auto& each : nameless) ADD_FAILURE() << each.toStdString();
    EXPECT_GT(named, 200);
    EXPECT_GT(spots, 300);
}

// The crossbar's cells say channel, stage, figure, verdict and reason, and act.
TEST_F(RealWindow, theCrossbarIsReadAndPressedByAnAssistiveProgram) {
    openCopy("demos/paper-moon-stage");
    window_->showCrossbar();
    auto* cell = spotNamed(crossbar(), "Rain, Match");
    ASSERT_NE(cell, nullptr);
    EXPECT_EQ(cell->role(), QAccessible::Button);
    EXPECT_TRUE(cell->text(QAccessible::Value).contains("holds") || cell->text(QAccessible::Value).contains("tight"))
        << cell->text(QAccessible::Value).toStdString();
    EXPECT_TRUE(QRect(crossbar()->mapToGlobal(QPoint()), crossbar()->size()).contains(cell->rect().center()));
    EXPECT_EQ(QAccessible::queryAccessibleInterface(crossbar())->childAt(cell->rect().center().x(), cell->rect().center().y()), cell);
    ASSERT_NE(cell->actionInterface(), nullptr);
    cell->actionInterface()->doAction(QAccessibleActionInterface::pressAction());
    EXPECT_EQ(find<QLabel>("sentence")->isVisible(), true);
    EXPECT_TRUE(spotNamed(find<StageBar>("stages"), "Match")->state().selected);
    EXPECT_TRUE(spotNamed(find<ChannelEdge>("channels"), "Rain")->state().selected);
}

// By the keyboard alone: to a cell, along it, into its stage, to the next stage, to another channel, and to another part.
TEST_F(RealWindow, isWalkedThroughWithoutAMouse) {
    openCopy("demos/paper-moon-stage");
    window_->showCrossbar();
    for (int k = 0; k < 40 && QApplication::focusWidget() != crossbar(); ++k) QTest::keyClick(window_.get(), Qt::Key_Tab);
    ASSERT_EQ(QApplication::focusWidget(), crossbar());
    const auto before = crossbar()->grab().toImage();
    QTest::keyClick(crossbar(), Qt::Key_Down);
    QTest::keyClick(crossbar(), Qt::Key_Right);
    EXPECT_NE(crossbar()->grab().toImage(), before) << "the cell in hand is framed";
    EXPECT_EQ(crossbar()->spots().at(static_cast<std::size_t>(crossbar()->spotInHand())).name, "Curtain, Match");
    QTest::keyClick(crossbar(), Qt::Key_Return);
    auto* stages = find<StageBar>("stages");
    EXPECT_TRUE(spotNamed(stages, "Match")->state().selected);
    stages->setFocus(Qt::TabFocusReason);
    QTest::keyClick(stages, Qt::Key_Right);
    QTest::keyClick(stages, Qt::Key_Space);
    EXPECT_TRUE(spotNamed(stages, "Feed")->state().selected);
    auto* channels = find<ChannelEdge>("channels");
    channels->setFocus(Qt::TabFocusReason);
    QTest::keyClick(channels, Qt::Key_Up);
    QTest::keyClick(channels, Qt::Key_Return);
    EXPECT_TRUE(spotNamed(channels, "Rain")->state().selected);
    QTest::keyClick(stages, Qt::Key_Left);
    QTest::keyClick(stages, Qt::Key_Return);
    auto* candidates = find<SpotWidget>("candidates");
    candidates->setFocus(Qt::TabFocusReason);
    const int now = candidates->spotInHand();
    ASSERT_GE(now, 0);
    EXPECT_TRUE(candidates->spots().at(static_cast<std::size_t>(now)).chosen) << "it begins at the part that is chosen";
    QTest::keyClick(candidates, Qt::Key_Down);
    const auto next = candidates->spots().at(static_cast<std::size_t>(candidates->spotInHand()));
    const auto chosen = document_->model().project.channels.front().actuator;
    QTest::keyClick(candidates, Qt::Key_Return);
    QApplication::processEvents();
    EXPECT_TRUE(window_->match()->onTrial() || document_->model().project.channels.front().actuator != chosen) << next.name.toStdString();
}

// Version and licences, each as the copyright file of its Debian package has it.
TEST_F(RealWindow, aboutNamesWhatItIsMadeOf) {
    open();
    for (auto* action : window_->findChildren<QAction*>())
        if (action->text() == "About Hinge Spark") action->trigger();
    auto* about = find<QTextBrowser>("aboutText");
    ASSERT_NE(about, nullptr);
    EXPECT_TRUE(about->toPlainText().contains("Hinge Spark 0.")) << about->toPlainText().left(60).toStdString();
    int read = 0;
    for (const auto& each : ingredients()) {
        EXPECT_TRUE(about->toPlainText().contains(each.name)) << each.name;
        EXPECT_TRUE(about->toPlainText().contains(each.licence)) << each.name;
        QFile file(QString("/usr/share/doc/%1/copyright").arg(each.package));
        if (!file.open(QIODevice::ReadOnly)) continue;
        ++read;
        const QString whole = QString::fromUtf8(file.readAll());
        // Two of them are not in the machine-readable form: the words of their licences.
        const QString words = QString(each.licence) == "UCAR"      ? "University Corporation for Atmospheric Research"
                              : QString(each.package) == "libzip4" ? "Redistribution and use in source and binary forms"
                                                                   : each.licence;
        EXPECT_TRUE(whole.contains(words)) << each.package << " is not under " << each.licence;
    }
    EXPECT_GT(read, 10);
    about->window()->close();
}

// Two loops on a low window with large letters: the column scrolls, and nothing in it is squashed or out of reach.
TEST_F(RealWindow, everyControlOfTuneIsReached) {
    openCopy("demos/tightrope-rider");
    setScale(1.5);
    window_->applyTheme();
    window_->resize(1100, 700);
    go(project::Stage::Tune);
    for (int k = 0; k < 10; ++k) QApplication::processEvents();
    auto* area = find<QScrollArea>("tuneControls");
    ASSERT_NE(area, nullptr);
    int seen = 0;
    for (auto* each : area->widget()->findChildren<QWidget*>()) {
        if (!each->isVisible() || each->focusPolicy() == Qt::NoFocus || qobject_cast<QScrollBar*>(each) != nullptr) continue;
        if (qobject_cast<QComboBox*>(each->parentWidget()) != nullptr) continue;  // the field inside a list that is typed into
        ++seen;
        EXPECT_GE(each->height(), each->minimumSizeHint().height()) << each->objectName().toStdString();
        area->ensureWidgetVisible(each);
        const QRect shown(area->viewport()->mapToGlobal(QPoint()), area->viewport()->size());
        const QRect own(each->mapToGlobal(QPoint()), each->size());
        EXPECT_TRUE(shown.intersected(own).height() >= std::min(own.height(), shown.height()) - 2) << each->objectName().toStdString();
        EXPECT_LE(own.right(), shown.right() + 1) << each->objectName().toStdString() << " is cut at the right";
    }
    EXPECT_GT(seen, 12);
    setScale(1.0);
    window_->applyTheme();
}

}  // namespace
}  // namespace hinge::app
