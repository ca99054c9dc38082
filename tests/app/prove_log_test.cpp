// Prove and Log in the real window: the runner, photos, readings over the link, pieces, fits; the journal, parts, care and the packet.
#include "app/prove_log.hpp"
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

using namespace proving;

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
    // Each is held until it has been seen: a busy machine looks later.
    for (int i = 0; i < 3; ++i) {
        const auto before = said();
        session().board()->setInput(i, true);
        ASSERT_TRUE(QTest::qWaitFor([&] { return said() != before || !window_->prove()->reader()->busy(); }, 20000))
            << said().toStdString();
        session().board()->setInput(i, false);
    }
    ASSERT_TRUE(QTest::qWaitFor([&] { return !window_->prove()->reader()->busy(); }, 20000)) << said().toStdString();
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

}  // namespace
}  // namespace hinge::app
