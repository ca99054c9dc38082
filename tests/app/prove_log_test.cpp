// Prove and Log in the real window: the runner, photos, readings over the link, pieces, fits; the journal, parts, care and the packet.
#include <QDate>
#include <QImage>
#include <QLabel>
#include <QPainter>
#include <QScrollArea>
#include <fstream>
#include "app/fixture.hpp"
#include "journal/run_log.hpp"
#include "shell/packet_paper.hpp"
#include "simulation/interpreted_board.hpp"
#include "stages/log/log_page.hpp"
#include "stages/log/packet_page.hpp"
#include "stages/log/time_line.hpp"
#include "stages/log/upkeep_page.hpp"
#include "stages/prove/link_reader.hpp"
#include "stages/prove/prove_page.hpp"
#include "stages/tune/tune_page.hpp"
#include "store/document.hpp"
#include "support/program.hpp"

namespace hinge::app {
namespace {

class ProveAndLog : public test::WindowTest {
protected:
    void openStage() { openCopy("demos/paper-moon-stage"); }
    LinkSession& session() { return window_->tune()->session(); }
    void at(const char* channel, project::Stage stage) { window_->go(channel, static_cast<int>(stage)); }
    [[nodiscard]] const proof::Step& step(const std::string& id) const {
        for (const auto& each : document_->model().steps)
            if (each.id == id) return each;
        static const proof::Step none;
        ADD_FAILURE() << id;
        return none;
    }
    void say(const QString& reading) {
        auto* field = find<QLineEdit>("reading");
        field->clear();
        QTest::keyClicks(field, reading);
        QTest::keyClick(field, Qt::Key_Return);
    }
    [[nodiscard]] QString said() { return find<QLabel>("readingSaid")->text(); }
    void press(const QString& button) { QTest::mouseClick(find<QPushButton>(button), Qt::LeftButton); }
    // Types into a field of a table, as its edit is left.
    void enter(const QString& name, const QString& words) {
        auto* field = find<QLineEdit>(name);
        ASSERT_NE(field, nullptr);
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, words);
        QTest::keyClick(field, Qt::Key_Return);
        QApplication::processEvents();
    }
    [[nodiscard]] QString photo(int side = 64, const char* name = "here.png") const {
        QImage image(side, side, QImage::Format_RGB32);
        image.fill(Qt::darkCyan);
        const auto file = folder_.path() / name;
        EXPECT_TRUE(image.save(QString::fromStdString(file.string())));
        return QString::fromStdString(file.string());
    }
    [[nodiscard]] QString photoFile(const std::string& name) const { return document_->folder() + "/photos/" + text(name); }
    void connectStandIn() {
        at("rain", project::Stage::Tune);
        session().startStandIn();
        ASSERT_TRUE(QTest::qWaitFor([&] { return session().connected() && session().telemetry().size() > 60; }, 20000))
            << session().status().toStdString();
    }
    // The page's own button, and what it recorded.
    void readOverLink(const std::string& id, int milliseconds) {
        at("rain", project::Stage::Prove);
        window_->prove()->choose(text(id));
        press("readingOverLink");
        ASSERT_TRUE(QTest::qWaitFor([&] { return !window_->prove()->reader()->busy(); }, milliseconds)) << id;
    }
};

// ---- The runner

TEST_F(ProveAndLog, theRunnerIsReadAtArmsLength) {
    openStage();
    at("rain", project::Stage::Prove);
    auto* title = find<QLabel>("stepTitle");
    auto* list = find<QScrollArea>("stepList");
    const int usual = title->font().pixelSize();
    EXPECT_TRUE(list->isVisible());
    press("runnerLarge");
    EXPECT_FALSE(list->isVisible()) << "one step alone";
    EXPECT_GE(title->font().pixelSize(), 36) << "about 1 cm on a usual screen";
    EXPECT_GE(find<QLabel>("stepRange")->font().pixelSize(), 44);
    press("runnerLarge");
    EXPECT_EQ(title->font().pixelSize(), usual);
    EXPECT_TRUE(list->isVisible());
}

TEST_F(ProveAndLog, stepsAreWalkedSkippedWithAReasonAndTakenUpLater) {
    openStage();
    at("rain", project::Stage::Prove);
    const QString first = find<QLabel>("stepTitle")->text();
    press("stepNext");
    EXPECT_NE(find<QLabel>("stepTitle")->text(), first);
    press("stepBack");
    EXPECT_EQ(find<QLabel>("stepTitle")->text(), first);
    say("skip:");
    EXPECT_TRUE(said().contains("reason"));
    EXPECT_TRUE(document_->model().project.proof.empty());
    say("skip: no ohmmeter here");
    ASSERT_EQ(document_->model().project.proof.size(), 1U);
    EXPECT_EQ(document_->model().project.proof.front().skipped, "no ohmmeter here");
    const QString second = find<QLabel>("stepTitle")->text();
    EXPECT_NE(second, first);
    // Stopped here, saved, and another day.
    ASSERT_TRUE(document_->save().isEmpty());
    start();
    ASSERT_TRUE(window_->openFolder(text(folder_.path().string())));
    at("rain", project::Stage::Prove);
    EXPECT_EQ(find<QLabel>("stepTitle")->text(), second);
}

TEST_F(ProveAndLog, aChangedDriverOpensExactlyItsOwnSteps) {
    openStage();
    auto project = document_->model().project;
    for (const auto& each : document_->model().steps)
        if (each.expected) project = proof::record(project, each, display(each.kind, *each.expected, 6), "", "2026-11-26T10:00");
    document_->replace(project);
    const auto open = [&] {
        QStringList list;
        for (const auto& each : document_->model().steps)
            if (each.reopened) list << text(each.id);
        return list;
    };
    ASSERT_TRUE(open().isEmpty()) << open().join(' ').toStdString();
    ASSERT_TRUE(document_->apply(project::FactEdit{"channels/rain/drive/gate_resistor", "220 ohm"}).isEmpty());
    const auto now = open();
    EXPECT_EQ(now, QStringList({"rain.gate_off", "rain.gate_on", "rain.heat"}))
        << now.join(' ').toStdString() << ": the gate's volts and the switch's warmth, nothing else";
    document_->undo();
    ASSERT_TRUE(document_->apply(project::FactEdit{"channels/curtain/pin", "D11"}).isEmpty());
    for (const auto& each : open()) EXPECT_TRUE(each.startsWith("curtain.")) << each.toStdString();
    EXPECT_TRUE(open().contains("curtain.running"));
    EXPECT_FALSE(open().contains("curtain.winding")) << "its copper is the same";
    document_->undo();
    EXPECT_TRUE(open().isEmpty()) << "the old part is the one that was measured";
}

// ---- Photos

TEST_F(ProveAndLog, aPhotoStaysWithItsStep) {
    openStage();
    at("rain", project::Stage::Prove);
    window_->prove()->attach(photo());
    const auto& first = document_->model().steps.front();
    ASSERT_FALSE(first.photo.empty()) << said().toStdString();
    EXPECT_TRUE(QFileInfo::exists(photoFile(first.photo)));
    EXPECT_EQ(first.verdict, Verdict::Unknown) << "a photo is no reading";
    EXPECT_TRUE(find<QLabel>("stepPhoto")->isVisible());
    // The folder was moved away: said in place, nothing lost.
    std::filesystem::rename(folder_.path() / "photos", folder_.path() / "elsewhere");
    window_->prove()->choose(text(first.id));
    EXPECT_TRUE(find<QLabel>("stepPhoto")->text().contains("not in the project's photos folder"))
        << find<QLabel>("stepPhoto")->text().toStdString();
    EXPECT_FALSE(document_->model().steps.front().photo.empty());
    std::filesystem::rename(folder_.path() / "elsewhere", folder_.path() / "photos");
    window_->prove()->choose(text(first.id));
    EXPECT_FALSE(find<QLabel>("stepPhoto")->pixmap().isNull());
}

TEST_F(ProveAndLog, aStrangeOrBrokenPhotoIsRefusedInPlace) {
    openStage();
    at("rain", project::Stage::Prove);
    const auto strange = folder_.path() / "camera.raw";
    std::ofstream(strange) << "FOVb not a picture that anybody reads";
    window_->prove()->attach(text(strange.string()));
    EXPECT_TRUE(said().contains("camera.raw") && said().contains("png")) << said().toStdString();
    // Cut short in the middle.
    const auto whole = photo(512, "whole.png");
    const auto cut = folder_.path() / "cut.png";
    std::filesystem::copy_file(whole.toStdString(), cut);
    std::filesystem::resize_file(cut, 60);
    window_->prove()->attach(text(cut.string()));
    EXPECT_TRUE(said().contains("cut.png")) << said().toStdString();
    // A text that calls itself a picture, and a picture that calls itself a text.
    std::ofstream(folder_.path() / "list.jpg") << "1 x MOSFET";
    window_->prove()->attach(text((folder_.path() / "list.jpg").string()));
    EXPECT_TRUE(said().contains("list.jpg"));
    window_->prove()->attach("/nowhere/at/all.png");
    EXPECT_TRUE(said().contains("all.png"));
    EXPECT_TRUE(document_->model().project == document_->saved()) << "nothing is attached, nothing is lost";
    std::filesystem::rename(whole.toStdString(), folder_.path() / "whole.txt");
    window_->prove()->attach(text((folder_.path() / "whole.txt").string()));
    EXPECT_FALSE(document_->model().steps.front().photo.empty()) << "what it is counts, not its name";
}

// A bitmap of 4096 × 5200 × 3 bytes: its header by the format's own documentation, its pixels a hole in the file. One of twice the height
// is larger than a photo may be, and is not even read.
TEST_F(ProveAndLog, aPhotoOfSixtyMegabytesIsMadeSmallerAsItComesAndALargerOneRefused) {
    openStage();
    at("rain", project::Stage::Prove);
    for (const std::uint32_t high : {10400U, 5200U}) {
        const std::uint32_t wide = 4096, bytes = wide * high * 3;
        const auto file = folder_.path() / "scan.bmp";
        std::string head(54, '\0');
        const auto put = [&](std::size_t at, std::uint32_t value, int n) {
            for (int k = 0; k < n; ++k) head[at + static_cast<std::size_t>(k)] = static_cast<char>(value >> 8 * k & 255);
        };
        head[0] = 'B', head[1] = 'M';
        put(2, 54 + bytes, 4), put(10, 54, 4), put(14, 40, 4), put(18, wide, 4), put(22, high, 4), put(26, 1, 2), put(28, 24, 2),
            put(34, bytes, 4);
        std::ofstream(file, std::ios::binary) << head;
        std::filesystem::resize_file(file, 54 + bytes);
        window_->prove()->attach(text(file.string()));
        if (high > 5200U) {
            EXPECT_TRUE(document_->model().steps.front().photo.empty());
            EXPECT_TRUE(said().contains("at most 64 MB")) << said().toStdString();
            continue;
        }
        ASSERT_FALSE(document_->model().steps.front().photo.empty()) << said().toStdString();
        const QImage kept(photoFile(document_->model().steps.front().photo));
        EXPECT_EQ(std::max(kept.width(), kept.height()), 2000);
        EXPECT_LT(QFileInfo(photoFile(document_->model().steps.front().photo)).size(), 3'000'000);
    }
}

// ---- Over the link

TEST_F(ProveAndLog, withoutABoardTheLinkSaysWhatToDo) {
    openStage();
    at("rain", project::Stage::Prove);
    window_->prove()->choose("link");
    press("readingOverLink");
    EXPECT_TRUE(said().contains("Tune")) << said().toStdString();
    EXPECT_TRUE(document_->model().project.proof.empty());
    window_->prove()->choose("rail.movers");
    EXPECT_FALSE(find<QPushButton>("readingOverLink")->isVisible()) << "volts of a rail are the meter's";
}

TEST_F(ProveAndLog, readingsAreTakenOverTheLink) {
    openStage();
    connectStandIn();
    readOverLink("link", 15000);
    EXPECT_EQ(step("link").verdict, Verdict::Holds) << step("link").reading << ' ' << said().toStdString();
    readOverLink("rain.time", 20000);
    EXPECT_EQ(step("rain.time").verdict, Verdict::Holds) << step("rain.time").reading << ' ' << said().toStdString();
    readOverLink("turntable.held", 30000);
    EXPECT_EQ(step("turntable.held").verdict, Verdict::Holds) << step("turntable.held").reading << ' ' << said().toStdString();
    // It stands again afterwards: the hand has let go.
    EXPECT_TRUE(QTest::qWaitFor(
        [&] {
            return session().telemetry().value(static_cast<std::size_t>(session().outputOf("turntable")),
                                               session().telemetry().size() - 1) == 0.0F;
        },
        5000));
}

TEST_F(ProveAndLog, inputsAreCountedAsTheyArePressed) {
    openStage();
    connectStandIn();
    at("rain", project::Stage::Prove);
    window_->prove()->choose("inputs");
    press("readingOverLink");
    ASSERT_TRUE(QTest::qWaitFor([&] { return said().contains("Not seen yet"); }, 5000)) << said().toStdString();
    for (int i = 0; i < 3; ++i) {
        session().board()->setInput(i, true);
        QTest::qWait(250);
        session().board()->setInput(i, false);
        QTest::qWait(250);
    }
    ASSERT_TRUE(QTest::qWaitFor([&] { return !window_->prove()->reader()->busy(); }, 10000)) << said().toStdString();
    EXPECT_EQ(step("inputs").reading, "3") << said().toStdString();
    EXPECT_EQ(step("inputs").verdict, Verdict::Holds);
}

TEST_F(ProveAndLog, aPlugPulledWhileItReadsLosesNothing) {
    openStage();
    connectStandIn();
    at("rain", project::Stage::Prove);
    window_->prove()->choose("inputs");
    press("readingOverLink");
    ASSERT_TRUE(QTest::qWaitFor([&] { return said().contains("Not seen yet"); }, 5000));
    session().board()->unplug();
    ASSERT_TRUE(QTest::qWaitFor([&] { return !window_->prove()->reader()->busy(); }, 10000));
    EXPECT_TRUE(said().contains("broke off") || said().contains("Nothing has come")) << said().toStdString();
    EXPECT_TRUE(document_->model().project.proof.empty());
}

// ---- Pieces and fits

TEST_F(ProveAndLog, aPieceIsTriedJudgedAndTakenBack) {
    openStage();
    at("moon", project::Stage::Prove);
    press("proveSamples");
    const auto before = document_->model().project.journal.samples.size();
    press("addSample");
    ASSERT_EQ(document_->model().project.journal.samples.size(), before + 1);
    const auto id = text(document_->model().project.journal.samples.back().id);
    enter("sample_" + id + "_range", "100 deg");
    EXPECT_EQ(find<QLabel>("verdict_" + id)->text(), "reject");
    enter("sample_" + id + "_range", "12 mA");
    EXPECT_FALSE(find<QLabel>("samplesSaid")->text().isEmpty()) << "milliamps are no angle";
    EXPECT_EQ(find<QLineEdit>("sample_" + id + "_range")->text(), "100°") << "the last good value stays";
    enter("sample_" + id + "_range", "181 deg");
    EXPECT_EQ(find<QLabel>("verdict_" + id)->text(), "accept");
    document_->undo();
    EXPECT_EQ(find<QLabel>("verdict_" + id)->text(), "reject");
    at("lamps", project::Stage::Prove);
    EXPECT_TRUE(find<QLabel>("samplesSentence")->text().contains("yet"));
}

TEST_F(ProveAndLog, aMeasuredLengthIsJudgedAtOnce) {
    openStage();
    at("moon", project::Stage::Prove);
    press("proveFit");
    EXPECT_NE(finding("does-not-fit"), nullptr) << "the demo's horn stands half a tooth off";
    type("channels/moon/fit/horn_rest", "37.5 deg");
    type("channels/moon/fit/screw", "10 mm");
    const auto moon = [&] {
        return std::count_if(document_->model().plan.findings.begin(), document_->model().plan.findings.end(),
                             [](const plan::PlanFinding& f) { return f.id == "does-not-fit" && f.channel == "moon"; });
    };
    EXPECT_EQ(moon(), 0);
    type("channels/moon/fit/clearance", "0");
    EXPECT_EQ(moon(), 1) << "no air at full lock";
    type("channels/moon/fit/clearance", "12 V");
    EXPECT_EQ(si(*project::findChannel(document_->model().project, "moon")->fit.clearance), 0.0) << "refused, the last good value stays";
}

// ---- The journal

TEST_F(ProveAndLog, aFailureTakesItsPartOutOfTheDrawer) {
    openStage();
    at("rain", project::Stage::Log);
    const auto counted = [&] {
        for (const auto& stock : document_->model().project.journal.stock)
            if (stock.id == "mosfet_logic_30v") return si(stock.in_hand);
        return -1.0;
    };
    const double before = counted();
    ASSERT_GT(before, 1.0);
    choose("entryKind", "failure");
    EXPECT_TRUE(find<QComboBox>("entryPart")->isVisible());
    find<QComboBox>("entryPart")->setCurrentIndex(find<QComboBox>("entryPart")->findData("mosfet_logic_30v"));
    QTest::keyClicks(find<QLineEdit>("entryText"), "Gate burned: no resistor");
    press("addEntry");
    EXPECT_EQ(document_->model().project.journal.entries.back().part, "mosfet_logic_30v");
    EXPECT_DOUBLE_EQ(counted(), before - 1.0);
    EXPECT_TRUE(find<QTextBrowser>("journal")->toPlainText().contains("Gone: Logic-level MOSFET"));
    document_->undo();
    EXPECT_DOUBLE_EQ(counted(), before);
}

TEST_F(ProveAndLog, aLessonIsKeptForItsStageAndALineGoesOutAndBack) {
    openStage();
    at("curtain", project::Stage::Log);
    choose("entryKind", "lesson");
    find<QComboBox>("entryStage")->setCurrentIndex(find<QComboBox>("entryStage")->findData("pins"));
    QTest::keyClicks(find<QLineEdit>("entryText"), "Keep the serial pins free");
    press("addEntry");
    const auto entry = document_->model().project.journal.entries.back();
    EXPECT_EQ(entry.stage, "pins");
    EXPECT_EQ(entry.channel, "curtain");
    const auto count = document_->model().project.journal.entries.size();
    test::follow(find<QTextBrowser>("journal"), "drop:/" + text(entry.id));
    EXPECT_EQ(document_->model().project.journal.entries.size(), count - 1);
    document_->undo();
    EXPECT_EQ(document_->model().project.journal.entries.size(), count);
}

TEST_F(ProveAndLog, anEmptyLineAndABadCostAreRefusedInPlace) {
    openStage();
    at("rain", project::Stage::Log);
    const auto count = document_->model().project.journal.entries.size();
    press("addEntry");
    EXPECT_TRUE(find<QLabel>("entrySaid")->text().contains("line"));
    QTest::keyClicks(find<QLineEdit>("entryText"), "Glue");
    QTest::keyClicks(find<QLineEdit>("entryCost"), "a fortune");
    press("addEntry");
    EXPECT_TRUE(find<QLabel>("entrySaid")->text().contains("number"));
    EXPECT_EQ(document_->model().project.journal.entries.size(), count);
    EXPECT_EQ(find<QLineEdit>("entryText")->text(), "Glue") << "what was typed stays";
}

TEST_F(ProveAndLog, theJournalIsSearchedAndItsPhotosShown) {
    openStage();
    at("rain", project::Stage::Log);
    window_->log()->attach(photo());
    QTest::keyClicks(find<QLineEdit>("entryText"), "The tube as it is routed");
    press("addEntry");
    EXPECT_FALSE(document_->model().project.journal.entries.back().photo.empty());
    EXPECT_TRUE(find<QTextBrowser>("journal")->toHtml().contains("photo:/"));
    const QUrl place("photo:/" + text(document_->model().project.journal.entries.back().photo));
    EXPECT_FALSE(find<QTextBrowser>("journal")->document()->resource(QTextDocument::ImageResource, place).value<QImage>().isNull())
        << "and it is there";
    QTest::keyClicks(find<QLineEdit>("findEntry"), "velvet");
    EXPECT_TRUE(find<QTextBrowser>("journal")->toPlainText().contains("Velvet for the curtain"));
    EXPECT_FALSE(find<QTextBrowser>("journal")->toPlainText().contains("Plywood"));
    find<QLineEdit>("findEntry")->setText("xyzzy");
    EXPECT_TRUE(find<QTextBrowser>("journal")->toPlainText().contains("No line has"));
}

// Ten years, three lines a day: shown at once, the newest first, the rest a click away.
TEST_F(ProveAndLog, aJournalOfTenYearsOpens) {
    openStage();
    auto project = document_->model().project;
    const QDate first(2016, 1, 1);
    for (int day = 0; day < 3650; ++day)
        for (int k = 0; k < 3; ++k) {
            journal::Entry entry;
            entry.id = "old" + std::to_string(3 * day + k);
            entry.date = first.addDays(day).toString(Qt::ISODate).toStdString() + "T1" + std::to_string(k) + ":00";
            entry.kind = k == 0 ? journal::EntryKind::Run : journal::EntryKind::Measurement;
            entry.channel = k == 1 ? "rain" : "";
            entry.text = "Line " + std::to_string(3 * day + k);
            project.journal.entries.push_back(std::move(entry));
        }
    store::Document kept;
    kept.project = project;
    ASSERT_TRUE(store::save(kept, folder_.path()));
    const auto again = store::load(folder_.path());
    ASSERT_TRUE(again) << sentence(again.error());
    EXPECT_TRUE(again->project == project) << "nothing is lost";
    ASSERT_TRUE(window_->openFolder(text(folder_.path().string()))) << window_->lastSaid().toStdString();
    at("rain", project::Stage::Log);
    auto* view = find<QTextBrowser>("journal");
    EXPECT_TRUE(view->toPlainText().contains("2026-11-21 16:40"));
    EXPECT_FALSE(view->toPlainText().contains("Line 0\n"));
    find<QLineEdit>("findEntry")->setText("Line 4711");
    EXPECT_TRUE(view->toPlainText().contains("Line 4711"));
}

// A board on a port that is no stand-in of the window's own: its runs are written down as they end.
TEST_F(ProveAndLog, aBoardsRunsAreKeptAndCounted) {
    openStage();
    const auto& m = document_->model();
    LiveBoard board(std::make_unique<simulation::InterpretedBoard>(*m.plan.program, *plan::plantsOf(m.project, m.parts, m.plan),
                                                                   m.project.brief.name, "interpreted"));
    board.start();
    at("rain", project::Stage::Tune);
    session().connectTo(board.port());
    ASSERT_TRUE(QTest::qWaitFor([&] { return session().connected() && session().telemetry().size() > 60; }, 20000))
        << session().status().toStdString();
    session().send(link::StartCue{0});
    const auto file = folder_.path() / "runs.csv";
    ASSERT_TRUE(QTest::qWaitFor([&] { return std::filesystem::exists(file); }, 15000)) << session().status().toStdString();
    const auto rows = journal::parseRunLog(*files::readWhole(file));
    ASSERT_TRUE(rows);
    ASSERT_EQ(rows->size(), 1U);
    EXPECT_EQ(rows->front().action, "Rain");
    EXPECT_EQ(rows->front().trigger, "The storm");
    EXPECT_NEAR(*rows->front().duration, si(*plan::findChannel(m.plan, "rain")->dose_time), 0.02) << "the dose that is planned";
    at("rain", project::Stage::Log);
    press("logRuns");
    EXPECT_TRUE(find<QTextBrowser>("journal")->toPlainText().contains("runs.csv"));
    board.unplug();
    ASSERT_TRUE(QTest::qWaitFor([&] { return !session().isOpen(); }, 10000));
}

// ---- Parts, care, packet

TEST_F(ProveAndLog, countsAreTypedAndASubstituteIsAskedFor) {
    openStage();
    at("rain", project::Stage::Log);
    press("logParts");
    enter("stock_bridge_3a_in_hand", "0");
    EXPECT_NE(finding("parts-short"), nullptr);
    enter("stock_bridge_3a_in_hand", "two");
    EXPECT_FALSE(find<QLabel>("accountSaid")->text().isEmpty());
    enter("stock_bridge_3a_in_hand", "2");
    EXPECT_EQ(finding("parts-short"), nullptr);
    press("instead_bridge_3a");
    press("decideInstead");
    const auto& stock = document_->model().project.journal.stock;
    const auto at_line = std::find_if(stock.begin(), stock.end(), [](const journal::Stock& each) { return each.id == "bridge_3a"; });
    ASSERT_NE(at_line, stock.end());
    EXPECT_FALSE(at_line->substitute.empty());
    const auto* instead = project::findDriver(document_->model().parts, at_line->substitute);
    ASSERT_NE(instead, nullptr);
    press("instead_bridge_3a");  // closed again: the line says it by its name
    const auto labels = window_->findChildren<QLabel*>();
    EXPECT_TRUE(
        std::any_of(labels.begin(), labels.end(), [&](const QLabel* each) { return each->text() == "instead: " + text(instead->name); }));
}

TEST_F(ProveAndLog, itSaysHonestlyWhetherItWasWorthIt) {
    openStage();
    at("rain", project::Stage::Log);
    press("logParts");
    EXPECT_TRUE(find<QLabel>("worthIt")->text().contains("for its own sake"));
    // 14 uses a week at ten minutes and 12 an hour: 28 a week. By hand: cost over 28.
    ASSERT_TRUE(document_->apply(project::FactEdit{"journal/minutes_saved_per_use", "10 min"}).isEmpty());
    const double cost = document_->model().account.spent() + 31 * 12;
    EXPECT_TRUE(find<QLabel>("worthIt")->text().contains(QString::number(cost / 28.0, 'f', 0) + " weeks"))
        << find<QLabel>("worthIt")->text().toStdString();
    ASSERT_TRUE(document_->apply(project::FactEdit{"journal/hours", "0 h"}).isEmpty());
    EXPECT_TRUE(find<QLabel>("worthIt")->text().contains("how long it took"));
}

TEST_F(ProveAndLog, careIsTakenUpDoneAndGivenUp) {
    openStage();
    at("rain", project::Stage::Log);
    press("logUpkeep");
    window_->log()->upkeep()->setToday(QDate(2026, 11, 26));
    EXPECT_TRUE(find<QLabel>("upkeepSentence")->text().contains("Overdue: 1 of 3")) << find<QLabel>("upkeepSentence")->text().toStdString();
    press("careDone_blades");
    EXPECT_TRUE(find<QLabel>("upkeepSentence")->text().contains("Nothing is overdue"));
    EXPECT_EQ(document_->model().project.journal.care.back().done, "2026-11-26");
    find<QLineEdit>("careWhat")->setText("oil the hinges");
    find<QLineEdit>("careEvery")->setText("every so often");
    press("addCare");
    EXPECT_FALSE(find<QLabel>("upkeepSaid")->text().isEmpty());
    EXPECT_EQ(document_->model().project.journal.care.size(), 3U);
    find<QLineEdit>("careEvery")->setText("every 6 weeks");
    press("addCare");
    ASSERT_EQ(document_->model().project.journal.care.size(), 4U);
    EXPECT_DOUBLE_EQ(si(document_->model().project.journal.care.back().every), 42 * 86400.0);
    QApplication::processEvents();
    press("careDrop_" + text(document_->model().project.journal.care.back().id));
    EXPECT_EQ(document_->model().project.journal.care.size(), 3U);
}

TEST_F(ProveAndLog, thePacketIsLookedAtBeforeItIsHandedOn) {
    openStage();
    at("rain", project::Stage::Log);
    press("logPacket");
    auto* sheets = find<PacketSheets>("packetSheets");
    EXPECT_GT(sheets->pages(), 10);
    EXPECT_GT(sheets->heightForWidth(800), 1000);
    for (const char* name : {"packet.pdf", "packet.html", "packet.zip"}) {
        const auto file = folder_.path() / name;
        window_->savePacket(text(file.string()));
        EXPECT_GT(std::filesystem::file_size(file), 20'000U) << name << ": " << window_->lastSaid().toStdString();
    }
    const auto listed = hinge::test::run("/usr/bin/python3 -m zipfile -l " + (folder_.path() / "packet.zip").string());
    EXPECT_EQ(listed.status, 0);
    for (const char* inside : {"packet.pdf", "packet.html", "project.json", "wiring.csv", "scene.vcd", "schedule.ics", ".ino"})
        EXPECT_NE(listed.out.find(inside), std::string::npos) << inside;
}

// On paper too: the photo is there, in its colour, and no line of any page is torn.
TEST_F(ProveAndLog, aPhotoIsOnThePaperAndNoLineIsTorn) {
    openStage();
    at("rain", project::Stage::Log);
    window_->log()->attach(photo(300));
    QTest::keyClicks(find<QLineEdit>("entryText"), "The tube as it is routed");
    press("addEntry");
    const auto& m = document_->model();
    auto packet = report::packetOf(m.project, m.parts, m.evidence, "2026-11-26");
    const auto names = report::photosOf(m.project);
    ASSERT_EQ(names.size(), 1U);
    packet.photos[names[0]] = *files::readWhole(photoFile(names[0]).toStdString());
    const PacketPaper paper(packet, 1.0);
    int cyan = 0, photo_before = 0;
    const int last_row = paper.size().toSize().height() - 45 - 3;  // the foot takes 0.3 inch of 150 dots
    for (int n = 0; n < paper.pages(); ++n) {
        QImage sheet(paper.size().toSize(), QImage::Format_RGB32);
        sheet.fill(Qt::white);
        QPainter painter(&sheet);
        paper.draw(painter, n);
        painter.end();
        for (int y = 0; y < sheet.height(); y += 4)
            for (int x = 0; x < sheet.width(); x += 4) {
                const QColor c = sheet.pixelColor(x, y);
                cyan += std::abs(c.red()) < 20 && std::abs(c.green() - 128) < 20 && std::abs(c.blue() - 128) < 20 ? 1 : 0;
            }
        // A line that lay across the edge would show its lower half in the first dots of this page; a whole one has its leading there.
        // The photo has none: it may begin there, when the page before does not end with it.
        const auto isPhoto = [&](int x, int y) {
            const QColor c = sheet.pixelColor(x, y);
            return std::abs(c.red()) < 20 && std::abs(c.green() - 128) < 20 && std::abs(c.blue() - 128) < 20;
        };
        int ink = 0, photo_here = 0, photo_at_foot = 0;
        for (int x = 0; x < sheet.width(); ++x) {
            if (isPhoto(x, 1)) ++photo_here;
            else ink += sheet.pixelColor(x, 1).lightness() < 128 ? 1 : 0;
            photo_at_foot += isPhoto(x, last_row) ? 1 : 0;
        }
        EXPECT_EQ(ink, 0) << "page " << n + 1;
        EXPECT_FALSE(photo_here > 0 && photo_before > 0) << "the photo is torn between pages " << n << " and " << n + 1;
        photo_before = photo_at_foot;
    }
    EXPECT_GT(cyan, 1000) << "the photo's own colour";
}

TEST_F(ProveAndLog, aMarkOnTheTimeLineLeadsToItsLine) {
    openStage();
    at("rain", project::Stage::Log);
    auto* line = find<TimeLine>("timeLine");
    QString picked;
    QObject::connect(line, &TimeLine::picked, line, [&](const QString& entry) { picked = entry; });
    QApplication::processEvents();
    line->grab();
    // The first cost stands on the lane of the whole gadget, at the very left of the lanes.
    for (int x = 0; x < line->width() && picked.isEmpty(); x += 4) QTest::mouseClick(line, Qt::LeftButton, Qt::NoModifier, QPoint(x, 40));
    EXPECT_EQ(picked, "frame");
}

}  // namespace
}  // namespace hinge::app
