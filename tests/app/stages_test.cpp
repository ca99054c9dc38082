// Pins, Pulse and Feed, driven through the window.
#include <QLabel>
#include <QMenu>
#include <QTableWidget>
#include <QTextBrowser>
#include <fstream>
#include "app/fixture.hpp"
#include "stages/feed/feed_page.hpp"
#include "stages/log/log_page.hpp"
#include "stages/pins/pins_page.hpp"
#include "stages/prove/fault_page.hpp"
#include "stages/pulse/pulse_page.hpp"

namespace hinge::app {
namespace {

using Window = test::WindowTest;
using project::Stage;

int columnOf(QTableWidget* table, const QString& heading) {
    for (int i = 0; i < table->columnCount(); ++i)
        if (table->horizontalHeaderItem(i)->text() == heading) return i;
    return -1;
}

TEST_F(Window, aWireIsRecordedAndUndoForgetsIt) {
    open();
    go(Stage::Pins);
    QTest::mouseClick(find<QPushButton>("pinsWires"), Qt::LeftButton);
    auto* table = find<QTableWidget>("wireTable");
    ASSERT_GT(table->rowCount(), 0);
    table->item(0, columnOf(table, "colour"))->setText("violet");
    ASSERT_EQ(document_->model().project.wires.size(), 1U);
    EXPECT_EQ(document_->model().project.wires.front().colour, "violet");
    // A length that is none is refused, and what stood there stays.
    table->item(0, columnOf(table, "length"))->setText("3 kg");
    EXPECT_FALSE(document_->model().project.wires.front().length);
    EXPECT_TRUE(find<QLabel>("wiresSaid")->text().contains("length")) << find<QLabel>("wiresSaid")->text().toStdString();
    document_->undo();
    EXPECT_TRUE(document_->model().project.wires.empty());
}

TEST_F(Window, aSnapshotShowsWhatMovedSince) {
    open();
    go(Stage::Pins);
    QTest::mouseClick(find<QPushButton>("pinsWires"), Qt::LeftButton);
    QTest::mouseClick(find<QPushButton>("wiresKeep"), Qt::LeftButton);
    ASSERT_EQ(document_->model().project.journal.snapshots.size(), 1U);
    ASSERT_TRUE(document_->apply(project::FactEdit{"channels/rain/pin", "D6"}).isEmpty());
    auto* since = find<QComboBox>("wiresSince");
    since->setCurrentIndex(1);
    auto* table = find<QTableWidget>("wireTable");
    bool moved = false;
    for (int row = 0; row < table->rowCount(); ++row) moved = moved || table->item(row, 7)->text().contains("D5");
    EXPECT_TRUE(moved) << "rain's wire was on D5";
}

TEST_F(Window, anotherBoardIsTakenWithAllItsWires) {
    open();
    go(Stage::Pins);
    QTest::mouseClick(find<QPushButton>("pinsBoards"), Qt::LeftButton);
    auto* table = find<QTableWidget>("boardTable");
    for (int row = 0; row < table->rowCount(); ++row)
        if (table->item(row, 0)->data(Qt::UserRole).toString() == "atmega2560-16mhz") table->selectRow(row);
    auto* change = find<QPushButton>("boardChange");
    ASSERT_TRUE(change->isEnabled());
    QTest::mouseClick(change, Qt::LeftButton);
    EXPECT_EQ(document_->model().project.board.form, board::BoardForm::Mega16);
    EXPECT_EQ(finding("pin-cannot"), nullptr);
    document_->undo();
    EXPECT_EQ(document_->model().project.board.form, board::BoardForm::Uno16);
}

// A board of more lines takes what it can: one click, no new stop, and back again.
TEST_F(Window, linesGoToABoardOfMoreLines) {
    open();
    go(Stage::Pins);
    QTest::mouseClick(find<QPushButton>("pinsBoards"), Qt::LeftButton);
    auto* table = find<QTableWidget>("boardTable");
    int at = -1;
    for (int row = 0; row < table->rowCount(); ++row)
        if (table->item(row, 0)->text().contains("I/O expander")) at = row;
    ASSERT_GE(at, 0);
    table->selectRow(at);
    EXPECT_TRUE(find<QLabel>("boardMoves")->text().contains("start")) << find<QLabel>("boardMoves")->text().toStdString();
    auto* change = find<QPushButton>("boardChange");
    ASSERT_TRUE(change->isEnabled());
    EXPECT_EQ(change->text(), "Put them there");
    const auto stops = [&] {
        const auto& all = document_->model().plan.findings;
        return std::count_if(all.begin(), all.end(), [](const auto& each) { return each.severity == Severity::Stop; });
    };
    const auto before = stops();
    QTest::mouseClick(change, Qt::LeftButton);
    const auto* start = project::findInput(document_->model().project, "start");
    EXPECT_EQ(start->expander, "io_expander_two_wire");
    EXPECT_EQ(start->pin.substr(0, 1), "X");
    EXPECT_LE(stops(), before);
    document_->undo();
    EXPECT_EQ(project::findInput(document_->model().project, "start")->expander, "");
}

TEST_F(Window, aCaptureIsReadAndABadOneIsSaidWhileTheLastStays) {
    open();
    go(Stage::Pulse);
    const auto file = folder_.path() / "bench.csv";
    {
        std::ofstream out(file);
        out << "time,D5\n";
        // 976.5625 Hz at a half: by hand 1.024 ms of period.
        for (int k = 0; k < 40; ++k) out << k * 1.024e-3 << ",1\n" << k * 1.024e-3 + 0.512e-3 << ",0\n";
    }
    window_->pulse()->openCapture(QString::fromStdString(file.string()));
    window_->pulse()->settle();
    ASSERT_TRUE(window_->pulse()->capture());
    ASSERT_EQ(window_->pulse()->capture()->signals.size(), 1U);
    EXPECT_NEAR(*window_->pulse()->capture()->signals.front().frequency, 976.5625, 0.01);
    const auto broken = folder_.path() / "broken.vcd";
    std::ofstream(broken) << "$timescale";
    window_->pulse()->openCapture(QString::fromStdString(broken.string()));
    window_->pulse()->settle();
    EXPECT_TRUE(window_->pulse()->capture()) << "the last good one stays";
    EXPECT_FALSE(find<QLabel>("captureSaid")->text().isEmpty());
}

TEST_F(Window, theEdgesOfACaptureAreMeasuredByTwoClicks) {
    open();
    go(Stage::Pulse);
    const auto file = folder_.path() / "two.csv";
    std::ofstream(file) << "time,D5\n0,0\n0.010,1\n0.020,0\n0.030,1\n0.040,0\n";
    window_->pulse()->openCapture(QString::fromStdString(file.string()));
    window_->pulse()->settle();
    auto* edges = window_->pulse()->edges();
    ASSERT_TRUE(edges->isVisible());
    // Look for two edges along the row, as a hand would.
    std::vector<std::pair<double, QPointF>> found;
    for (int y = 4; y < edges->height() && found.empty(); y += 4)
        for (int x = 0; x < edges->width(); ++x)
            if (const auto at = edges->edgeAt(QPointF(x, y)); at && (found.empty() || *at != found.back().first))
                found.emplace_back(*at, QPointF(x, y));
    ASSERT_GE(found.size(), 2U);
    QTest::mouseClick(edges, Qt::LeftButton, Qt::NoModifier, found[0].second.toPoint());
    QTest::mouseMove(edges, found[1].second.toPoint());
    QMouseEvent move(QEvent::MouseMove, found[1].second, edges->mapToGlobal(found[1].second), Qt::NoButton, Qt::NoButton, Qt::NoModifier);
    QApplication::sendEvent(edges, &move);
    ASSERT_TRUE(edges->measured());
    EXPECT_NEAR(std::abs(*edges->measured()), 0.010, 1e-9) << "written into the capture by hand";
}

TEST_F(Window, theSupplyIsPlayedInEveryView) {
    open();
    go(Stage::Feed);
    window_->feed()->settle();
    for (const char* tab : {"feedScene", "feedWorst", "feedDay"}) {
        QTest::mouseClick(find<QPushButton>(tab), Qt::LeftButton);
        ASSERT_TRUE(window_->feed()->chart()->day()) << tab;
        EXPECT_GT(window_->feed()->chart()->day()->peak, 0.2) << tab << ": the pump starts in each";
    }
    // By hand: two matinées a day, a dose each; three or so changes of the pump each time.
    EXPECT_NEAR(window_->feed()->chart()->day()->length, 86400.0, 1e-9);
    EXPECT_FALSE(find<QLabel>("feedChances")->text().isEmpty());
}

TEST_F(Window, aPressOnTheTreeChangesTheSupply) {
    open();
    go(Stage::Feed);
    QTest::mouseClick(find<QPushButton>("feedTree"), Qt::LeftButton);
    QApplication::processEvents();
    window_->grab();  // the boxes are known once they are painted
    auto* tree = window_->feed()->tree();
    const auto box = tree->boxOf("logic");
    ASSERT_FALSE(box.isEmpty());
    QTimer::singleShot(50, [] {
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        ASSERT_NE(menu, nullptr);
        for (auto* action : menu->actions())
            if (action->menu() != nullptr && action->text() == "Fed by")
                for (auto* choice : action->menu()->actions())
                    if (choice->text() == "buck converter") choice->trigger();
        menu->close();
    });
    QTest::mouseClick(tree, Qt::LeftButton, Qt::NoModifier, box.center().toPoint());
    EXPECT_EQ(project::findRail(document_->model().project, "logic")->conversion, power::Conversion::Buck);
    document_->undo();
    EXPECT_EQ(project::findRail(document_->model().project, "logic")->conversion, power::Conversion::Linear);
}

TEST_F(Window, aRoutineIsBuiltFromItsText) {
    open();
    go(Stage::Routine);
    auto* text = find<QTextBrowser>("routineText");
    const auto cues = document_->model().project.routine.cues.size();
    test::pick({"A cue that nothing starts yet"});
    test::follow(text, "menu:new/cue");
    ASSERT_EQ(document_->model().project.routine.cues.size(), cues + 1);
    const QString id = QString::fromStdString(document_->model().project.routine.cues.back().id);
    test::pick({"It starts", "every so often"});
    test::follow(text, "menu:cue/" + id);
    test::pick({"Then", "Rain", "runs for a time"});
    test::follow(text, "menu:cue/" + id);
    test::pick({"Then", "wait"});
    test::follow(text, "menu:cue/" + id);
    const auto& cue = document_->model().project.routine.cues.back();
    ASSERT_TRUE(cue.every);
    EXPECT_NEAR(si(*cue.every), 1200.0, 1e-9);
    ASSERT_EQ(cue.moves.size(), 2U);
    EXPECT_TRUE(document_->model().plan.program) << "it compiles as it stands";
    EXPECT_TRUE(text->toPlainText().contains("Every 20 min")) << text->toPlainText().toStdString();
    document_->undo();
    document_->undo();
    EXPECT_TRUE(document_->model().project.routine.cues.back().moves.empty());
}

TEST_F(Window, aPatternIsInsertedWithItsInput) {
    open();
    go(Stage::Routine);
    auto* text = find<QTextBrowser>("routineText");
    test::pick({"runs while something is sensed", "Rain"});
    test::follow(text, "menu:new/pattern");
    ASSERT_EQ(document_->model().project.routine.followers.size(), 1U);
    EXPECT_TRUE(text->toPlainText().contains("Rain is on while machine runs is true")) << text->toPlainText().toStdString();
    EXPECT_NE(finding("pins-open"), nullptr) << "its input has no pin yet, and one is offered";
    test::follow(text, "menu:drop/" + QString::fromStdString(document_->model().project.routine.followers.front().id));
    EXPECT_TRUE(document_->model().project.routine.followers.empty());
}

TEST_F(Window, thePacketIsSavedBothWays) {
    open();
    const auto html = folder_.path() / "packet.html", pdf = folder_.path() / "packet.pdf";
    window_->savePacket(QString::fromStdString(html.string()));
    window_->savePacket(QString::fromStdString(pdf.string()));
    EXPECT_GT(std::filesystem::file_size(html), 10'000U);
    std::ifstream in(pdf, std::ios::binary);
    std::string head(5, ' ');
    in.read(head.data(), 5);
    EXPECT_EQ(head, "%PDF-");
    window_->savePacket("/no/such/folder/packet.html");
    EXPECT_TRUE(window_->lastSaid().contains("packet.html") || window_->lastSaid().contains("folder")) << window_->lastSaid().toStdString();
}

// ---- Prove: the fault-finder; Log: every state ------------------------------------------------------

TEST_F(Window, aFaultIsFoundAnswerByAnswer) {
    open();
    go(project::Stage::Prove);
    QTest::mouseClick(find<QPushButton>("proveFaults"), Qt::LeftButton);
    auto* page = window_->findChild<FaultPage*>("faults");
    ASSERT_NE(page, nullptr);
    QTest::mouseClick(find<QPushButton>("answer_hums"), Qt::LeftButton);
    ASSERT_EQ(page->seen().size(), 1U);
    const auto before = page->ranked();
    page->take("by_hand", "stiff");
    EXPECT_EQ(page->ranked().front().cause.id, "jammed");
    QTest::mouseClick(find<QPushButton>("back_by_hand"), Qt::LeftButton);
    EXPECT_EQ(page->ranked().front().cause.id, before.front().cause.id) << "an answer taken back is as if never given";
    page->take("by_hand", "stiff");
    page->take("winding", "planned");
    QTest::mouseClick(find<QPushButton>("faultFound"), Qt::LeftButton);
    const auto& entry = document_->model().project.journal.entries.back();
    EXPECT_EQ(entry.kind, journal::EntryKind::Failure);
    EXPECT_NE(entry.settings.find("stiff"), std::string::npos) << "with what led there";
}

TEST_F(Window, aMadeUpFaultAnswersForTheGadget) {
    open();
    go(project::Stage::Prove);
    QTest::mouseClick(find<QPushButton>("proveFaults"), Qt::LeftButton);
    auto* page = window_->findChild<FaultPage*>("faults");
    page->practise(3);
    ASSERT_EQ(page->seen().size(), 1U);
    for (int k = 0; k < 15; ++k) {
        QApplication::processEvents();
        QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        auto* answer = window_->findChild<QPushButton*>("practiceAnswer");
        if (answer == nullptr) break;
        QTest::mouseClick(answer, Qt::LeftButton);
    }
    EXPECT_GE(page->ranked().front().probability, 0.5);
    EXPECT_TRUE(document_->model().project == document_->saved()) << "practice leaves the project alone";
}

TEST_F(Window, everyStateIsKeptComparedAndGoneBackTo) {
    open();
    go(project::Stage::Log);
    const auto first = document_->model().project;
    ASSERT_EQ(document_->history().size(), 1U);
    ASSERT_TRUE(document_->apply(project::FactEdit{"channels/rain/drive/gate_resistor", "220 ohm"}).isEmpty());
    ASSERT_TRUE(document_->apply(project::FactEdit{"channels/rain/pin", "D6"}).isEmpty());
    EXPECT_EQ(document_->history().size(), 3U);
    QTest::mouseClick(find<QPushButton>("logChanges"), Qt::LeftButton);
    auto* view = find<QTextBrowser>("journal");
    EXPECT_TRUE(view->toPlainText().contains("gate resistor")) << view->toPlainText().toStdString();
    test::follow(view, "look:/0");
    EXPECT_TRUE(view->toPlainText().contains("against now"));
    EXPECT_TRUE(view->toPlainText().contains("D5")) << "before and after";
    EXPECT_TRUE(view->toPlainText().contains("Wiring"));
    test::follow(view, "back:/0");
    EXPECT_TRUE(document_->model().project == first);
    EXPECT_EQ(document_->history().size(), 4U) << "what was newer stays";
    EXPECT_TRUE(*document_->history().at(2) != first);
    document_->undo();
    EXPECT_FALSE(document_->model().project == first) << "one undo takes it back";
    // Opened anew, it is all there.
    const auto states = document_->history().size();
    ASSERT_TRUE(document_->save().isEmpty());
    ASSERT_TRUE(document_->open(QString::fromStdString(folder_.path().string())).isEmpty());
    EXPECT_EQ(document_->history().size(), states);
    EXPECT_TRUE(*document_->history().at(0) == first);
}

TEST_F(Window, aChangedPartOpensExactlyItsOwnStepsAgain) {
    open();
    const auto now = [&](const std::string& id) {
        for (const auto& step : document_->model().steps)
            if (step.id == id) return step;
        return proof::Step{};
    };
    const auto steps = document_->model().steps;
    for (const auto& step : steps)
        if (step.expected)
            document_->replace(
                proof::record(document_->model().project, step, exactText(step.kind, *step.expected), "", "2026-11-26T10:00"));
    EXPECT_EQ(now("rain.gate_on").verdict, Verdict::Holds);
    ASSERT_TRUE(document_->apply(project::FactEdit{"channels/rain/drive/part", "mosfet_ordinary_55v"}).isEmpty());
    EXPECT_TRUE(now("rain.gate_on").reopened);
    EXPECT_EQ(now("rain.gate_on").verdict, Verdict::Unknown);
    EXPECT_FALSE(now("rain.winding").reopened) << "the pump is the same";
    for (const auto& step : document_->model().steps)
        if (step.channel.empty())
            EXPECT_EQ(step.reopened, step.phase == "All together")
                << step.id << ": what is measured with everything on is open again, supplies and logic are not";
    document_->undo();
    EXPECT_EQ(now("rain.gate_on").verdict, Verdict::Holds) << "the old part is back, and so is what was read of it";
}

TEST_F(Window, aRunLogSaysWhetherAFaultIsCured) {
    open();
    go(project::Stage::Log);
    const auto file = folder_.path() / "runs.csv";
    std::ofstream(file) << "time,fault\n2026-11-01T10:00,reset\n2026-11-02T10:00,reset\n2026-11-10T10:00,\n";
    auto* page = window_->findChild<LogPage*>("log");
    page->readRuns(QString::fromStdString(file.string()));
    auto* view = find<QTextBrowser>("journal");
    EXPECT_TRUE(view->toPlainText().contains("stayed away for long enough")) << view->toPlainText().toStdString();
    std::ofstream(file) << "no header here\n";
    page->readRuns(QString::fromStdString(file.string()));
    EXPECT_TRUE(view->toPlainText().contains("stayed away")) << "a bad one is said, and the last stays";
}

}  // namespace
}  // namespace hinge::app
