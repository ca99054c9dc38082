#include "app/prove_log.hpp"

namespace hinge::app {
namespace {

using namespace proving;

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
    const PacketPaper paper(packet);
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
