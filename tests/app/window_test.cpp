// The real window, offscreen, driven by mouse and keyboard through object names.
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTextBrowser>
#include <QTreeWidget>
#include "app/fixture.hpp"
#include "parts/parts_window.hpp"
#include "shell/channel_edge.hpp"
#include "shell/crossbar.hpp"
#include "shell/findings_strip.hpp"
#include "shell/guide.hpp"
#include "stages/match/candidate_list.hpp"
#include "stages/match/match_page.hpp"
#include "theme/theme.hpp"

namespace hinge::app {
namespace {

using Window = test::WindowTest;
using project::Stage;

TEST_F(Window, changingAFactChangesTheCell) {
    open();
    const QString before = crossbar()->figure(0, static_cast<int>(Stage::Need));
    go(Stage::Need);
    type("channels/rain/demand/volume", "40 mL");
    window_->showCrossbar();
    EXPECT_NE(crossbar()->figure(0, static_cast<int>(Stage::Need)), before);
    EXPECT_TRUE(document_->dirty());
}

// What a desktop's theme does after the window has begun: a font of its own for each class of button, field and menu.
TEST_F(Window, aDesktopsFontsDoNotReplaceTheHouses) {
    open();
    go(Stage::Need);
    for (const char* of : {"QPushButton", "QLineEdit", "QComboBox"}) qApp->setFont(QFont("Monospace", 19), of);
    for (int i = 0; i < 5; ++i) QApplication::processEvents();
    int looked = 0;
    for (auto* button : window_->findChildren<QPushButton*>()) {
        if (!button->isVisible()) continue;
        EXPECT_EQ(button->font().family(), textFont(Text::Body).family()) << button->text().toStdString();
        ++looked;
    }
    for (auto* field : window_->findChildren<QLineEdit*>())
        if (field->isVisible()) {
            EXPECT_EQ(field->font().family(), textFont(Text::Body).family());
            ++looked;
        }
    EXPECT_GT(looked, 5);
}

// Ctrl+F, a word, Enter: the field of that fact has the keyboard. A wire opens the list of wires, a command is done.
TEST_F(Window, whatIsLookedForIsFoundAndGoneTo) {
    open();
    const auto ask = [&](const QString& words) {
        QTest::keyClick(window_.get(), Qt::Key_F, Qt::ControlModifier);
        auto* field = find<QLineEdit>("find");
        EXPECT_TRUE(field->isVisible());
        field->setText(words);
        return field;
    };
    QTest::keyClick(ask("rain lift"), Qt::Key_Return);
    EXPECT_EQ(window_->stage(), static_cast<int>(Stage::Need));
    EXPECT_EQ(window_->channel(), "rain");
    QApplication::processEvents();
    auto* lift = find<QLineEdit>("channels/rain/demand/lift");
    EXPECT_TRUE(lift->isVisible());
    EXPECT_EQ(window_->focusWidget(), lift);
    // Arrows walk through what was found; Esc leaves everything as it was.
    auto* again = ask("rain");
    auto* list = find<QTreeWidget>("found");
    const auto row = [&] { return list->indexOfTopLevelItem(list->currentItem()); };
    const int first = row();
    QTest::keyClick(again, Qt::Key_Down);
    EXPECT_EQ(row(), first + 1);
    QTest::keyClick(again, Qt::Key_Up);
    EXPECT_EQ(row(), first);
    QTest::keyClick(again, Qt::Key_Escape);
    EXPECT_FALSE(again->isVisible());
    EXPECT_EQ(window_->channel(), "rain");
    QTest::keyClick(ask("→ ground"), Qt::Key_Return);
    EXPECT_EQ(window_->stage(), static_cast<int>(Stage::Pins));
    // A command by its name.
    const bool dark = isDark();
    QTest::keyClick(ask("light or dark"), Qt::Key_Return);
    EXPECT_NE(isDark(), dark);
    useDark(dark);
    auto* nothing = ask("zzqx");
    EXPECT_EQ(list->topLevelItemCount(), 1);
    EXPECT_TRUE(list->topLevelItem(0)->text(0).contains("Nothing")) << "it says so";
    QTest::keyClick(nothing, Qt::Key_Return);
    EXPECT_TRUE(nothing->isVisible());
}

TEST_F(Window, wrongInputIsRefusedInPlaceAndTheLastGoodValueStays) {
    open();
    go(Stage::Need);
    type("channels/rain/demand/lift", "45 kg");
    auto* problem = find<QLabel>("problem:channels/rain/demand/lift");
    EXPECT_TRUE(problem->isVisible());
    EXPECT_TRUE(problem->text().contains("a length takes")) << problem->text().toStdString();
    EXPECT_DOUBLE_EQ(si(*std::get<project::PumpDemand>(document_->model().project.channels.front().demand).lift), 0.45);
    EXPECT_FALSE(document_->dirty());
    type("channels/rain/demand/lift", "0.5");
    EXPECT_FALSE(find<QLabel>("problem:channels/rain/demand/lift")->isVisible());
    EXPECT_DOUBLE_EQ(si(*std::get<project::PumpDemand>(document_->model().project.channels.front().demand).lift), 0.5)
        << "a bare number is metres";
}

TEST_F(Window, aFieldTakesAnyUnitAndShowsItsOwn) {
    open();
    go(Stage::Need);
    type("channels/rain/demand/lift", "20 in");
    EXPECT_EQ(find<QLineEdit>("channels/rain/demand/lift")->text(), "508 mm");
}

TEST_F(Window, aRemedyCuresItsFindingAndUndoBringsItBack) {
    open();
    go(Stage::Match);
    choose("channels/rain/drive/part", "mosfet_ordinary_55v");
    ASSERT_NE(finding("gate-not-enhanced"), nullptr);
    auto* remedy = window_->findChild<QPushButton*>(remedyName("gate-not-enhanced"));
    ASSERT_NE(remedy, nullptr);
    QTest::mouseClick(remedy, Qt::LeftButton);
    EXPECT_EQ(finding("gate-not-enhanced"), nullptr);
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
    EXPECT_NE(finding("gate-not-enhanced"), nullptr);
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(document_->model().project.channels.front().drive.part, "mosfet_logic_30v");
    EXPECT_FALSE(document_->dirty());
}

TEST_F(Window, everyRemedyOnTheScreenCanBePressed) {
    const std::pair<const char*, const char*> faults[] = {
        {"channels/rain/drive/flyback_diode", "no"}, {"rails/movers/fuse", ""},
        {"rails/movers/wire_length", "15 m"},        {"channels/rain/pin", "D4"},
        {"sources/adapter/current", "0.5 A"},        {"channels/rain/signal/frequency", "2 kHz"},
        {"channels/rain/demand/lift", "1.5 m"},      {"channels/rain/drive/gate_resistor", "100"}};
    for (const auto& [path, value] : faults) {
        open();
        ASSERT_TRUE(document_->apply(project::FactEdit{path, value}).isEmpty());
        const auto names = remedyNames();
        ASSERT_FALSE(names.isEmpty()) << path;
        for (const auto& name : names) {
            auto* button = window_->findChild<QPushButton*>(name);
            if (button == nullptr) continue;  // gone with an earlier press
            const auto before = document_->model().project;
            QTest::mouseClick(button, Qt::LeftButton);
            EXPECT_FALSE(document_->model().project == before) << name.toStdString() << " changed nothing";
            document_->undo();
        }
    }
}

// The row of a pair in the candidates' list; -1 when it is not there.
int rowOf(const CandidateList& list, const QString& actuator, const QString& driver) {
    for (int i = 0; i < list.count(); ++i)
        if ((actuator.isEmpty() || list.actuatorOf(i) == actuator) && list.driverOf(i) == driver) return i;
    return -1;
}

TEST_F(Window, aCandidateIsTriedByAClickAndKeptByAButton) {
    open();
    go(Stage::Match);
    auto* list = find<CandidateList>("candidates");
    ASSERT_GT(list->count(), 5);
    const int row = rowOf(*list, "centrifugal_12v_small", "darlington_60v");
    ASSERT_GE(row, 0);
    const auto before = document_->model().project;
    QTest::mouseClick(list, Qt::LeftButton, Qt::NoModifier, list->rowCentre(row));
    EXPECT_EQ(document_->model().project, before) << "on trial: nothing is decided yet";
    auto* page = window_->findChild<MatchPage*>();
    EXPECT_TRUE(page->onTrial());
    bool wires = false, money = false;
    for (const auto* each : find<QWidget>("matchRows")->findChildren<QLabel*>())
        wires = wires || each->text() == "wire comes", money = money || each->text().contains("known price");
    EXPECT_TRUE(wires && money) << "what changes downstream is listed";
    QTest::mouseClick(find<QPushButton>("dropSwap"), Qt::LeftButton);
    EXPECT_FALSE(page->onTrial());
    EXPECT_EQ(document_->model().project, before);
    QTest::mouseClick(list, Qt::LeftButton, Qt::NoModifier, list->rowCentre(row));
    QTest::mouseClick(find<QPushButton>("keepSwap"), Qt::LeftButton);
    EXPECT_EQ(document_->model().project.channels.front().drive.part, "darlington_60v");
    document_->undo();
    EXPECT_EQ(document_->model().project, before);
}

TEST_F(Window, twoCandidatesAreComparedSideBySide) {
    open();
    go(Stage::Match);
    auto* list = find<CandidateList>("candidates");
    QTest::mouseClick(list, Qt::LeftButton, Qt::NoModifier, list->ringOf(0));
    QTest::mouseClick(list, Qt::LeftButton, Qt::NoModifier, list->ringOf(1));
    const auto rows = comparisonRows(document_->model(), "rain", list->compared());
    ASSERT_EQ(rows.front().cells.size(), 3) << "the chosen one and the two marked";
    EXPECT_EQ(find<QLabel>("matchLowerTitle")->text(), "Side by side");
}

// From a data sheet into the ranking in one go, kept in the maker's own folder and there again later.
TEST_F(Window, aPartOfOnesOwnIsAddedMarkedAndRanked) {
    open();
    hinge::test::TemporaryFolder mine;
    document_->setOwnParts(QString::fromStdString(mine.path().string()));
    go(Stage::Match);
    auto* list = find<CandidateList>("candidates");
    const int before = list->count();
    window_->showParts();
    auto* parts = window_->findChild<PartsWindow*>();
    auto* kinds = parts->findChild<QComboBox*>("partsKind");
    kinds->setCurrentIndex(kinds->findData("pumps"));
    auto* paste = parts->findChild<QPlainTextEdit*>("partsPaste");
    paste->setPlainText(
        "name: Attic pump; class: centrifugal; nominal voltage: 12 V; curve: 0:2 0.00003:0; running current: 0.2 A; stall current: 0.7 A; "
        "price: 0.10");
    QTest::mouseClick(parts->findChild<QPushButton*>("partsAdd"), Qt::LeftButton);
    EXPECT_TRUE(parts->findChild<QLabel*>("partsSaid")->text().startsWith("Added"))
        << parts->findChild<QLabel*>("partsSaid")->text().toStdString();
    EXPECT_EQ(list->count(), before + 1);
    EXPECT_EQ(list->actuatorOf(0), "attic_pump") << "the cheapest that does it";
    paste->setPlainText("name: Bad pump; class: magic; nominal voltage: 12 V; curve: 0:2 0.00003:0");
    QTest::mouseClick(parts->findChild<QPushButton*>("partsAdd"), Qt::LeftButton);
    EXPECT_TRUE(parts->findChild<QLabel*>("partsSaid")->text().contains("class"));
    EXPECT_FALSE(paste->toPlainText().isEmpty()) << "what was refused stays to be mended";
    EXPECT_TRUE(document_->markPart("attic_pump", "standing", "suspect").isEmpty());
    EXPECT_NE(list->actuatorOf(0), "attic_pump") << "a suspect sample is not first";
    // Another window, the same folder.
    Document other(HINGE_SOURCE_DIR "/parts");
    other.setOwnParts(QString::fromStdString(mine.path().string()));
    const auto* kept = project::findActuator(other.model().parts, "attic_pump");
    ASSERT_NE(kept, nullptr);
    EXPECT_EQ(actuator::head(*kept).standing, actuator::Standing::Suspect);
}

TEST_F(Window, aChannelOfEveryKindIsAddedByItsButton) {
    start();
    document_->newGadget();
    const std::pair<const char*, project::ChannelKind> kinds[] = {
        {"addTurn", project::ChannelKind::Turn}, {"addMove", project::ChannelKind::Move}, {"addPress", project::ChannelKind::Press},
        {"addPump", project::ChannelKind::Pump}, {"addBlow", project::ChannelKind::Blow}, {"addSwitch", project::ChannelKind::Switch},
        {"addHeat", project::ChannelKind::Heat}};
    for (const auto& [button, kind] : kinds) {
        window_->askWhatMoves();
        QTest::mouseClick(find<QPushButton>(button), Qt::LeftButton);
        EXPECT_EQ(project::channelKind(document_->model().project.channels.back()), kind) << button;
        const QString id = text(document_->model().project.channels.back().id);
        // Every stage says something for it, and nothing crashes on a channel of which nothing is known.
        for (int stage = 0; stage < project::stageCount; ++stage) {
            window_->go(id, stage);
            window_->grab();
            EXPECT_FALSE(find<QLabel>("sentence")->text().isEmpty()) << button << " " << stage;
        }
    }
}

TEST_F(Window, draggingTheRingMovesTheLift) {
    open();
    go(Stage::Match);
    auto* picture = window_->findChild<HeadFlowPicture*>("picture");
    for (auto* each : window_->findChildren<HeadFlowPicture*>())
        if (each->isVisible()) picture = each;
    picture->grab();
    const auto ring = picture->ring();
    ASSERT_TRUE(ring);
    const QPoint from = ring->toPoint(), to = from - QPoint(60, 0);
    QTest::mousePress(picture, Qt::LeftButton, Qt::NoModifier, from);
    QTest::mouseMove(picture, to);
    QTest::mouseRelease(picture, Qt::LeftButton, Qt::NoModifier, to);
    EXPECT_GT(si(*std::get<project::PumpDemand>(document_->model().project.channels.front().demand).lift), 0.5)
        << "less flow on the same curve: a higher lift";
    document_->undo();
    EXPECT_DOUBLE_EQ(si(*std::get<project::PumpDemand>(document_->model().project.channels.front().demand).lift), 0.45);
}

TEST_F(Window, saveAndReopenAreTheSame) {
    open();
    go(Stage::Need);
    type("channels/rain/demand/volume", "41 mL");
    QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier);
    EXPECT_FALSE(document_->dirty()) << window_->lastSaid().toStdString();
    const auto saved = document_->model().project;
    start();
    ASSERT_TRUE(window_->openFolder(QString::fromStdString(folder_.path().string())));
    EXPECT_EQ(document_->model().project, saved);
}

TEST_F(Window, aBadFileIsNamedAndTheOldProjectStaysOpen) {
    open();
    test::TemporaryFolder other;
    for (const std::string& text : {std::string{}, std::string{"{\"format\": 1, \"brief\""}, std::string("\x7f\x45\x4c\x46\0\1", 6),
                                    std::string{"{\"format\": 99}"}, std::string{"[]"}}) {
        ASSERT_TRUE(files::writeWhole(other.path() / "project.json", text));
        EXPECT_FALSE(window_->openFolder(QString::fromStdString(other.path().string())));
        EXPECT_TRUE(window_->lastSaid().contains("project.json")) << window_->lastSaid().toStdString();
        EXPECT_EQ(document_->model().project.brief.name, "The Paper Moon Stage");
    }
    EXPECT_FALSE(window_->openFolder("/nonexistent"));
}

TEST_F(Window, aFullDiskWhileSavingIsSaid) {
    open();
    EXPECT_FALSE(document_->save("/proc/hinge").isEmpty());
    EXPECT_EQ(document_->model().project.brief.name, "The Paper Moon Stage");
}

TEST_F(Window, anAutosaveIsOfferedAfterACrash) {
    open();
    store::Document crashed;
    crashed.project = document_->model().project;
    crashed.project.brief.name = "What was not saved";
    ASSERT_TRUE(files::writeWhole(folder_.path() / store::autosave_file, store::toText(crashed)));
    start();
    ASSERT_TRUE(window_->openFolder(QString::fromStdString(folder_.path().string())));
    EXPECT_EQ(document_->model().project.brief.name, "What was not saved");
    EXPECT_TRUE(window_->lastSaid().contains("ended early"));
    document_->undo();
    EXPECT_EQ(document_->model().project.brief.name, "The Paper Moon Stage");
}

TEST_F(Window, altAndArrowsWalkAndEscLeadsBack) {
    open();
    go(Stage::Need);
    QTest::keyClick(window_.get(), Qt::Key_Right, Qt::AltModifier);
    EXPECT_EQ(window_->stage(), static_cast<int>(Stage::Match));
    QTest::keyClick(window_.get(), Qt::Key_Left, Qt::AltModifier);
    EXPECT_EQ(window_->stage(), static_cast<int>(Stage::Need));
    QTest::keyClick(window_.get(), Qt::Key_Escape);
    EXPECT_EQ(window_->stage(), -1);
    QTest::mouseClick(crossbar(), Qt::LeftButton, Qt::NoModifier, QPoint(crossbar()->width() * 5 / 20, 40));
    EXPECT_EQ(window_->stage(), 2) << "the third tenth is Feed";
}

TEST_F(Window, aNewGadgetStartsWithOneQuestionAndGrows) {
    start();
    document_->newGadget();
    window_->showCrossbar();
    EXPECT_EQ(find<QLabel>("question")->text(), "What moves or switches?");
    EXPECT_TRUE(find<QLabel>("question")->isVisible());
    QTest::keyClicks(find<QLineEdit>("newChannelName"), "Fountain");
    QTest::mouseClick(find<QPushButton>("addPump"), Qt::LeftButton);
    ASSERT_EQ(document_->model().project.channels.size(), 1U);
    EXPECT_EQ(document_->model().project.channels.front().name, "Fountain");
    EXPECT_EQ(window_->stage(), static_cast<int>(Stage::Need));
    // Filled in, it comes to life.
    const std::string base = "channels/" + document_->model().project.channels.front().id + "/";
    for (const auto& [path, value] : {std::pair{"demand/volume", "50 mL"},
                                      {"demand/run_time_limit", "5 s"},
                                      {"demand/lift", "30 cm"},
                                      {"demand/tube_length", "1 m"},
                                      {"demand/tube_diameter", "6 mm"}})
        type(QString::fromStdString(base + path), value);
    ASSERT_TRUE(document_->apply(std::vector<project::FactEdit>{{"sources/adapter/voltage", "12 V"}, {"sources/adapter/current", "1 A"}})
                    .isEmpty());
    go(Stage::Match);
    auto* list = find<CandidateList>("candidates");
    QTest::mouseClick(list, Qt::LeftButton, Qt::NoModifier, list->rowCentre(0));
    ASSERT_TRUE(document_->apply(std::vector<project::FactEdit>{{base + "pin", "D5"}, {base + "drive/flyback_diode", "yes"}}).isEmpty());
    EXPECT_TRUE(document_->model().plan.program.has_value());
    EXPECT_TRUE(document_->model().sketch.has_value());
}

TEST_F(Window, channelsAreDuplicatedReorderedAndRemovedWithUndo) {
    open();
    const auto one = document_->model().project;
    document_->replace(project::duplicateChannel(one, "rain"));
    ASSERT_EQ(document_->model().project.channels.size(), 2U);
    const std::string copy = document_->model().project.channels[1].id;
    document_->replace(project::moveChannel(document_->model().project, copy, 0));
    EXPECT_EQ(document_->model().project.channels.front().id, copy);
    document_->replace(project::removeChannel(document_->model().project, "rain"));
    EXPECT_EQ(document_->model().project.channels.size(), 1U);
    for (int i = 0; i < 3; ++i) document_->undo();
    EXPECT_EQ(document_->model().project, one);
}

TEST_F(Window, smallWindowsAndLargeTextHold) {
    open();
    for (const auto& [size, text_scale] :
         {std::pair{QSize(1100, 700), 1.0}, {QSize(1100, 700), 1.5}, {QSize(3840, 2160), 1.0}, {QSize(1280, 800), 1.0}}) {
        setScale(text_scale);
        window_->applyTheme();
        window_->resize(size);
        for (int s = 0; s < project::stageCount; ++s) {
            window_->go("rain", s);
            QApplication::processEvents();
            auto* centre = find<QWidget>("centre");
            if (text_scale == 1.0) EXPECT_GE(centre->width(), size.width() * 45 / 100) << "the picture keeps about half, stage " << s;
            EXPECT_GT(centre->height(), size.height() / 3) << s;
        }
    }
    setScale(1.0);
}

TEST_F(Window, theGuideWalksInFiveStepsAndLeaves) {
    open();
    window_->guide()->start();
    EXPECT_EQ(window_->stage(), -1);
    const int stops[] = {static_cast<int>(Stage::Match), static_cast<int>(Stage::Routine), static_cast<int>(Stage::Tune),
                         static_cast<int>(Stage::Prove)};
    for (const int stop : stops) {
        QTest::mouseClick(find<QPushButton>("guideNext"), Qt::LeftButton);
        EXPECT_EQ(window_->stage(), stop);
    }
    QTest::mouseClick(find<QPushButton>("guideNext"), Qt::LeftButton);
    EXPECT_FALSE(window_->guide()->isVisible());
}

TEST_F(Window, everyMainViewOpensAndSaysSomething) {
    open();
    for (int s = 0; s < project::stageCount; ++s) {
        window_->go("rain", s);
        EXPECT_FALSE(find<QLabel>("sentence")->text().isEmpty()) << s;
        EXPECT_FALSE(window_->grab().isNull());
    }
    window_->go({}, static_cast<int>(Stage::Need));
    EXPECT_FALSE(find<QLabel>("sentence")->text().isEmpty());
}

TEST_F(Window, aReadingIsTakenJudgedAndLogged) {
    open();
    go(Stage::Prove);
    const auto entries = document_->model().project.journal.entries.size();
    auto* field = find<QLineEdit>("reading");
    QTest::keyClicks(field, "17 V");
    QTest::keyClick(field, Qt::Key_Return);
    EXPECT_TRUE(find<QLabel>("readingSaid")->text().contains("resistance")) << "the wrong unit is refused by name";
    field->clear();
    QTest::keyClicks(field, "17.5 ohm");
    QTest::keyClick(field, Qt::Key_Return);
    EXPECT_EQ(document_->model().project.journal.entries.size(), entries + 1);
    EXPECT_EQ(document_->model().steps.front().verdict, Verdict::Holds);
    EXPECT_TRUE(find<QLabel>("stepTitle")->text().contains("One ground")) << "the next step is in hand";
    QTest::keyClicks(field, "0.2 ohm");
    QTest::keyClick(field, Qt::Key_Return);
    EXPECT_TRUE(find<QLabel>("stepTitle")->text().contains("12 V rail"));
    field->clear();
    QTest::keyClicks(field, "3 V");
    QTest::keyClick(field, Qt::Key_Return);
    EXPECT_NE(finding("reading-off"), nullptr);
    EXPECT_TRUE(find<QLabel>("stepTitle")->text().contains("12 V rail")) << "a step that breaks stays in hand";
}

TEST_F(Window, aLineGoesIntoTheLog) {
    open();
    go(Stage::Log);
    const auto entries = document_->model().project.journal.entries.size();
    QTest::keyClicks(find<QLineEdit>("entryText"), "Outlet glued");
    QTest::keyClicks(find<QLineEdit>("entryCost"), "1.20");
    QTest::mouseClick(find<QPushButton>("addEntry"), Qt::LeftButton);
    ASSERT_EQ(document_->model().project.journal.entries.size(), entries + 1);
    EXPECT_DOUBLE_EQ(si(*document_->model().project.journal.entries.back().cost), 1.2);
    EXPECT_TRUE(find<QTextBrowser>("journal")->toPlainText().contains("Outlet glued"));
}

TEST_F(Window, pressingInputsPlaysTheScene) {
    open();
    go(Stage::Routine);
    const auto before = document_->model().scene->switchings.size();
    ASSERT_EQ(before, 2U);
    QTest::mouseClick(find<QPushButton>("press_tank_empty"), Qt::LeftButton);
    ASSERT_EQ(document_->model().scene->switchings.size(), 2U);
    EXPECT_NEAR(document_->model().scene->switchings[1].time, 0.55, 3e-3) << "empty from the press on, believed after 50 ms: the dose ends";
    QTest::mouseClick(find<QPushButton>("press_clear"), Qt::LeftButton);
    EXPECT_EQ(document_->model().scene->switchings.size(), 2U);
    QTest::mouseClick(find<QPushButton>("press_power"), Qt::LeftButton);
    EXPECT_FALSE(document_->dirty()) << "playing is not editing";
}

TEST_F(Window, aViolatedInterlockTellsItsStory) {
    open();
    go(Stage::Routine);
    check("routine/cues/storm/guards/dry/throughout");
    document_->settle();
    ASSERT_NE(finding("interlock-violable"), nullptr);
    QTest::mouseClick(find<QPushButton>("play_story"), Qt::LeftButton);
    ASSERT_TRUE(document_->model().scene.has_value());
    EXPECT_FALSE(document_->model().scene->switchings.empty());
}

}  // namespace
}  // namespace hinge::app
