// Routine and Code, driven through the window.
#include <QApplication>
#include <QColorDialog>
#include <QLabel>
#include <QMenu>
#include <QPlainTextEdit>
#include <QRegularExpression>
#include <QTextBrowser>
#include <QTimer>
#include <fstream>
#include "app/fixture.hpp"
#include "emulator/build.hpp"
#include "emulator/upload.hpp"
#include "project/routine_edits.hpp"
#include "simulation/simulate.hpp"
#include "stages/code/code_page.hpp"
#include "stages/routine/routine_page.hpp"
#include "stages/routine/routine_sentences.hpp"
#include "support/alone.hpp"
#include "support/programmer.hpp"
#include "support/rgb.hpp"

namespace hinge::app {
namespace {

using Window = test::WindowTest;
using project::Stage;

// Whatever pattern is inserted, it reads as sentences, and every underlined word of them is a fact that can be changed.
TEST_F(Window, everyWordOfEveryPatternCanBeChanged) {
    open();
    const auto stage = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project;
    document_->replace(stage);
    int links = 0;
    for (const auto& pattern : project::patterns()) {
        const std::string channel = pattern.stepper ? "curtain" : pattern.bridge ? "turntable" : pattern.moves ? "moon" : "rain";
        auto from = stage;
        if (pattern.bridge) from.routine.loops.clear();  // a loop does not say which way
        auto made = project::insertPattern(from, pattern.id, channel);
        ASSERT_TRUE(made) << pattern.id;
        document_->replace(std::move(*made));
        const auto& model = document_->model();
        EXPECT_FALSE(model.plan.program_error && model.plan.program_error->code != ErrorCode::Missing)
            << pattern.id << ": " << words(*model.plan.program_error).toStdString();
        const QString html = routineHtml(model);
        static const QRegularExpression link("href=\"fact:([^\"]+)\"");
        for (auto at = link.globalMatch(html); at.hasNext();) {
            const auto path = at.next().captured(1).toStdString();
            EXPECT_TRUE(project::fact(model.project, path)) << pattern.id << ": " << path;
            ++links;
        }
    }
    EXPECT_GT(links, 300);
}

TEST_F(Window, anInterlockOfSeveralOutputsIsBuiltAndChanged) {
    open();
    document_->replace(store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project);
    go(Stage::Routine);
    auto* text = find<QTextBrowser>("routineText");
    test::pick({"Rain together with", "Mist"});
    test::follow(text, "menu:new/never");
    const auto& rule = document_->model().project.routine.interlocks.back();
    ASSERT_EQ(rule.terms.size(), 1U);
    EXPECT_TRUE(text->toPlainText().contains("Never: Rain on with Mist on.")) << text->toPlainText().toStdString();
    test::pick({"and Moon arm", "beyond"});
    test::follow(text, "menu:never/" + QString::fromStdString(rule.id));
    EXPECT_TRUE(text->toPlainText().contains("Moon arm beyond its end"));
    document_->settle();
    // Rain and mist run when they like: it can happen, and its story is there to be played.
    ASSERT_TRUE(document_->model().plan.proofs);
    document_->undo();
    document_->settle();
    bool violated = false;
    for (const auto& proof : *document_->model().plan.proofs)
        violated = violated || (proof.status == routine::ProofStatus::Violated && !proof.replay.empty());
    EXPECT_TRUE(violated);
    QTest::mouseClick(find<QPushButton>("play_story"), Qt::LeftButton);
    ASSERT_FALSE(document_->model().script.empty());
    ASSERT_TRUE(document_->model().scene);
    int on = 0;
    for (const auto& s : document_->model().scene->switchings) on += s.on ? 1 : 0;
    EXPECT_GE(on, 2) << "both go on in the story";
}

// A lamp of three colours: one row, a sentence with its colour, a dialog behind the word, three lanes, and what it shines in on the chip.
TEST_F(Window, aLampShinesInAColour) {
    open();
    document_->replace(::hinge::test::glowing());
    go(Stage::Routine);
    auto* sentences = find<QTextBrowser>("routineText");
    EXPECT_TRUE(sentences->toPlainText().contains("in #ff8000")) << sentences->toPlainText().toStdString();
    EXPECT_EQ(document_->model().plan.channels.size(), 1U);
    // The word opens a dialog with the colour that is there; what is chosen becomes the move's, and can be undone.
    const std::string path = "routine/cues/run_it/moves/turns/colour";
    bool asked = false;
    QTimer::singleShot(0, sentences, [&] {
        auto* dialog = qobject_cast<QColorDialog*>(QApplication::activeModalWidget());
        if (dialog == nullptr) return;
        asked = dialog->currentColor() == QColor("#0000ff");
        dialog->setCurrentColor(QColor("#00ff00"));
        dialog->accept();
    });
    Q_EMIT sentences->anchorClicked(QUrl("fact:" + text(path)));
    EXPECT_TRUE(asked);
    EXPECT_EQ(project::fact(document_->model().project, path)->exact, "#00ff00");
    EXPECT_TRUE(sentences->toPlainText().contains("in #00ff00"));
    document_->settle();
    const auto& model = document_->model();
    ASSERT_TRUE(model.plan.program);
    EXPECT_EQ(model.plan.program->outputs.size(), 3U);
    ASSERT_TRUE(model.sketch);
    EXPECT_NE(model.sketch->text.find("PIN_IT_GREEN"), std::string::npos);
    for (const auto stage :
         {Stage::Need, Stage::Match, Stage::Feed, Stage::Pins, Stage::Pulse, Stage::Code, Stage::Tune, Stage::Prove, Stage::Log}) {
        go(stage);
        document_->settle();
        EXPECT_FALSE(window_->grab().isNull()) << static_cast<int>(stage);
    }
    document_->undo();
    EXPECT_EQ(project::fact(document_->model().project, path)->exact, "#0000ff");
}

// A motor on a bridge: its menu offers both ways, the sentence says which, a click turns it, and the scene draws it.
TEST_F(Window, aBridgeIsDrivenBackwards) {
    open();
    document_->replace(::hinge::test::alone(project::ChannelKind::Turn, "small_12v_g100", "bridge_3a",
                                            {{"channels/it/name", "Door"},
                                             {"channels/it/demand/mass", "60 g"},
                                             {"channels/it/demand/arm", "80 mm"},
                                             {"channels/it/demand/angle", "90 deg"},
                                             {"channels/it/demand/time", "2 s"},
                                             {"channels/it/direction_pin", "D4"},
                                             {"routine/cues/run_it/moves/goes/action", "run"},
                                             {"routine/cues/run_it/moves/goes/time", "2 s"},
                                             {"routine/cues/run_it/moves/comes_back/action", "off"}}));
    go(Stage::Routine);
    auto* text = find<QTextBrowser>("routineText");
    EXPECT_TRUE(text->toPlainText().contains("Door runs forwards for 2 s")) << text->toPlainText().toStdString();
    test::pick({"Then", "Door", "runs backwards for a time"});
    test::follow(text, "menu:cue/run_it");
    EXPECT_TRUE(text->toPlainText().contains("Door runs backwards for 10 s")) << text->toPlainText().toStdString();
    document_->settle();
    const auto& model = document_->model();
    ASSERT_TRUE(model.plan.program) << sentence(*model.plan.program_error);
    EXPECT_TRUE(model.plan.program->outputs.front().turns);
    EXPECT_EQ(model.plan.channels.front().not_driven, "");
    ASSERT_TRUE(model.sketch);
    EXPECT_NE(model.sketch->text.find("onBackwards(OUT_IT)"), std::string::npos);
    // Played: on forwards, still for its pause, on backwards.
    document_->play({{.time = 0.5, .input = "", .cue = "run_it"}});
    document_->settle();
    ASSERT_TRUE(document_->model().scene);
    bool back = false;
    for (const auto& s : document_->model().scene->switchings) back = back || s.back;
    EXPECT_TRUE(back);
}

TEST_F(Window, troubleComesAtThePlayHead) {
    open();
    go(Stage::Routine);
    test::pick({"Jams, or is free again", "Rain"});
    QTest::mouseClick(find<QPushButton>("press_trouble"), Qt::LeftButton);
    ASSERT_FALSE(document_->model().script.empty());
    bool jams = false;
    for (const auto& event : document_->model().script) jams = jams || event.jam == "rain";
    EXPECT_TRUE(jams);
    ASSERT_TRUE(document_->model().scene_supply);
    const double jammed = document_->model().scene_supply->drawn;
    QTest::mouseClick(find<QPushButton>("press_clear"), Qt::LeftButton);
    EXPECT_GE(jammed, document_->model().scene_supply->drawn) << "a jammed pump draws its stall current";
}

TEST_F(Window, theSceneIsPlayedSteppedAndReadFromAList) {
    open();
    go(Stage::Routine);
    auto* chart = find<SceneChart>("scene");
    ASSERT_TRUE(document_->model().scene);
    QTest::mouseClick(find<QPushButton>("play_next"), Qt::LeftButton);
    const double first = chart->playHead();
    QTest::mouseClick(find<QPushButton>("play_next"), Qt::LeftButton);
    EXPECT_GT(chart->playHead(), first) << "from change to change";
    QTest::keyClick(chart, Qt::Key_Left);
    EXPECT_NEAR(chart->playHead(), first, 1e-9) << "and back";
    QTest::mouseClick(find<QPushButton>("play_fast"), Qt::LeftButton);
    EXPECT_TRUE(chart->playing());
    QTest::qWait(400);
    EXPECT_GT(chart->playHead(), first);
    QTest::mouseClick(find<QPushButton>("play_scene"), Qt::LeftButton);
    EXPECT_FALSE(chart->playing()) << "once more stops it";
    const auto list = folder_.path() / "list.csv";
    std::ofstream(list) << "time,what,value\n0.5,start,1\n0.7,start,0\n6,power,\n";
    auto* page = window_->findChild<RoutinePage*>("routine");
    ASSERT_NE(page, nullptr);
    page->playList(QString::fromStdString(list.string()));
    ASSERT_EQ(document_->model().script.size(), 3U);
    std::ofstream(list) << "soon,start,1\n";
    page->playList(QString::fromStdString(list.string()));
    EXPECT_EQ(document_->model().script.size(), 3U) << "the last one stays";
    EXPECT_TRUE(window_->lastSaid().contains("soon")) << window_->lastSaid().toStdString();
}

TEST_F(Window, theFiveStatesAreShownAndCanBeChanged) {
    open();
    go(Stage::Routine);
    auto* text = find<QTextBrowser>("routineText");
    for (const char* head : {"power-up, reset", "stop, fault", "link lost", "no power", "power back"})
        EXPECT_TRUE(text->toPlainText().contains(head)) << head;
    EXPECT_TRUE(text->toPlainText().contains("waits for a start"));
    Q_EMIT text->anchorClicked(QUrl("fact:channels/rain/remembers"));
    EXPECT_TRUE(text->toPlainText().contains("as before"));
    document_->apply(project::FactEdit{"channels/rain/safe", "on"});
    EXPECT_NE(finding("no-safe-state"), nullptr) << "a pump that is on where it should be safe";
}

TEST_F(Window, theCodeShowsWhatHasChangedSinceItWasSaved) {
    open();
    go(Stage::Code);
    auto* view = find<QPlainTextEdit>("code");
    QTest::mouseClick(find<QPushButton>("viewDifference"), Qt::LeftButton);
    EXPECT_TRUE(view->toPlainText().contains("Nothing has changed"));
    document_->apply(project::FactEdit{"channels/rain/off_delay", "0.4 s"});
    EXPECT_TRUE(view->toPlainText().contains("+ const long START_RAIN_OFF_DELAY = 400;")) << view->toPlainText().toStdString();
    EXPECT_TRUE(view->toPlainText().contains("− const long START_RAIN_OFF_DELAY = 0;"));
    EXPECT_TRUE(view->toPlainText().contains(QRegularExpression("// ---- \\w+\\.ino: \\d+ gone, \\d+ new ----")))
        << view->toPlainText().toStdString();
    EXPECT_FALSE(view->toPlainText().contains("gadget.h")) << "nothing new in what it has";
    QTest::mouseClick(find<QPushButton>("viewRuntime"), Qt::LeftButton);
    EXPECT_TRUE(view->toPlainText().contains("src/spark_motion.h"));
    EXPECT_TRUE(view->toPlainText().contains("finePlaceAt"));
    EXPECT_TRUE(view->toPlainText().contains("#define SPARK_TIMES")) << "and what this gadget has of it";
    QTest::mouseClick(find<QPushButton>("viewSketch"), Qt::LeftButton);
    EXPECT_TRUE(view->toPlainText().contains("Made by Hinge Spark from plan"));
}

// Saved, it is all there: the sketch, its runtime, its wiring as a deck; what a hand wrote stays, and a folder that is none is said.
TEST_F(Window, aSketchIsSavedWithItsRuntimeAndItsDeck) {
    open();
    go(Stage::Code);
    QString told;
    QObject::connect(window_->code(), &CodePage::said, [&](const QString& words) { told = words; });
    test::TemporaryFolder folder;
    const auto ino = folder.path() / "moon.ino";
    window_->code()->saveTo(text(ino.string()));
    EXPECT_TRUE(told.contains("moon.ino") && told.contains("moon.cir")) << told.toStdString();
    const auto deck = files::readWhole(folder.path() / "moon.cir");
    ASSERT_TRUE(deck);
    EXPECT_NE(deck->find("rain_mosfet_gate"), std::string::npos);
    EXPECT_TRUE(files::readWhole(folder.path() / "src" / "spark_tick.h"));
    auto mine = *files::readWhole(ino);
    mine.insert(mine.find('\n', mine.find("// >>> yours: top")) + 1, "int laps = 0;  // mine\n");
    ASSERT_TRUE(files::writeWhole(ino, mine));
    window_->code()->saveTo(text(ino.string()));
    EXPECT_NE(files::readWhole(ino)->find("int laps = 0;  // mine\n"), std::string::npos);
    window_->code()->saveTo(text((folder.path() / "nowhere" / "moon.ino").string()));
    EXPECT_TRUE(told.startsWith("Not saved")) << told.toStdString();
}

TEST_F(Window, aSketchOfOnesOwnIsRunAndRead) {
    if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
    open();
    go(Stage::Code);
    auto* page = window_->code();
    page->examine(HINGE_SOURCE_DIR "/tests/sketches/blocking.ino");
    page->settle();
    auto* report = find<QTextBrowser>("ownReport");
    EXPECT_TRUE(report->isVisible());
    EXPECT_TRUE(report->toPlainText().contains("longest time between two loops")) << report->toPlainText().toStdString();
    EXPECT_TRUE(report->toPlainText().contains("line 16"));
    const auto broken = folder_.path() / "broken.ino";
    std::ofstream(broken) << "void setup() { nonsense }";
    page->examine(QString::fromStdString(broken.string()));
    page->settle();
    EXPECT_TRUE(find<QLabel>("codeSaid")->text().contains("does not compile"));
    EXPECT_TRUE(report->toPlainText().contains("nonsense"));
    page->examine("/no/such/file.ino");
    page->settle();
    EXPECT_TRUE(find<QLabel>("codeSaid")->text().contains("file.ino"));
}

TEST_F(Window, anUploadIsAskedForAndAnswered) {
    if (!emulator::compilerFound() || !emulator::programmerFound()) GTEST_SKIP() << "avr-gcc or avrdude is not installed";
    open();
    go(Stage::Code);
    auto* page = window_->code();
    QTest::mouseClick(find<QPushButton>("openUpload"), Qt::LeftButton);
    auto* said = find<QLabel>("codeSaid");
    const auto write = [&](const QString& port) {
        find<QComboBox>("uploadPort")->setCurrentText(port);
        QTest::mouseClick(find<QPushButton>("uploadWrite"), Qt::LeftButton);
        page->settle();
        return said->text();
    };
    EXPECT_TRUE(write("/dev/not-there").contains("is the cable in")) << said->text().toStdString();
    {
        hinge::test::Programmer other({0x1e, 0x98, 0x01});
        EXPECT_TRUE(write(QString::fromStdString(other.port())).contains("another board")) << said->text().toStdString();
        EXPECT_TRUE(other.flash().empty());
    }
    hinge::test::Programmer board({0x1e, 0x95, 0x0f});
    EXPECT_TRUE(write(QString::fromStdString(board.port())).contains("read back")) << said->text().toStdString();
    EXPECT_GT(board.flash().size(), 1000U);
    // With a mover coupled it asks for hands off first.
    document_->replace(store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project);
    page->present();
    EXPECT_TRUE(write(QString::fromStdString(board.port())).contains("horns")) << said->text().toStdString();
    document_->apply(project::FactEdit{"board/form", "rp2040"});
    page->present();
    QTest::mouseClick(find<QPushButton>("openUpload"), Qt::LeftButton);
    QTest::mouseClick(find<QPushButton>("openUpload"), Qt::LeftButton);
    EXPECT_TRUE(said->text().contains("boot button")) << said->text().toStdString();
}

}  // namespace
}  // namespace hinge::app
