#include "shell/shots.hpp"
#include <QDate>
#include <QDir>
#include <QEventLoop>
#include <QFileInfo>
#include <QImage>
#include <QPushButton>
#include <QScrollBar>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QTextBrowser>
#include <QTimer>
#include <functional>
#include "parts/parts_window.hpp"
#include "plan/pin_plan.hpp"
#include "project/routine_edits.hpp"
#include "shell/handbook.hpp"
#include "stages/code/code_page.hpp"
#include "stages/feed/feed_page.hpp"
#include "stages/log/log_page.hpp"
#include "stages/log/upkeep_page.hpp"
#include "stages/match/match_page.hpp"
#include "stages/pins/pins_page.hpp"
#include "stages/prove/fault_page.hpp"
#include "stages/prove/prove_page.hpp"
#include "stages/pulse/pulse_page.hpp"
#include "stages/tune/tune_page.hpp"
#include "theme/theme.hpp"

namespace hinge::app {
namespace {

void wait(int milliseconds) {
    QEventLoop loop;
    QTimer::singleShot(milliseconds, &loop, &QEventLoop::quit);
    loop.exec();
}

// Tune at work: a few trials of the turntable, its strip chart, practice; a fan's sweep and a body that balances in the other examples.
void tuneShots(MainWindow& window, Document& document, const std::function<void(const QString&)>& shoot) {
    auto& page = *window.tune();
    auto& session = page.session();
    const auto begin = [&](const QString& channel) {
        window.go(channel, static_cast<int>(hinge::project::Stage::Tune));
        session.startStandIn();
        for (int i = 0; i < 200 && !(session.connected() && session.telemetry().size() > 60); ++i) wait(50);
    };
    const auto step = [&](double length) {
        for (const auto& loop : document.model().project.routine.loops)
            if (text(loop.channel) == window.channel()) session.startStep(text(loop.id), length);
        for (int i = 0; i < 400 && session.recording(); ++i) wait(50);
    };
    const QString home = document.folder();
    QTemporaryDir trials;
    session.setTrialFolder(trials.path().toStdString());
    begin("turntable");
    const std::pair<double, double> tries[] = {{4.0, 0.0}, {60.0, 30.0}, {2.0, 14.0}, {10.0, 8.0}};
    for (const auto& [p, i] : tries) {
        page.setGain('P', p), page.setGain('I', i);
        wait(300);
        step(3.0);
    }
    page.settle();
    shoot("tune-turntable");
    page.showView(TunePage::View::Strip);
    page.strip()->setRange(20.0);
    shoot("tune-strip");
    page.showView(TunePage::View::Practice);
    page.chooseExercise(0);
    page.setGain('P', 0.03), page.setGain('I', 0.25);
    page.settle();
    shoot("tune-practice");
    page.chooseExercise(6);
    page.settle();
    shoot("tune-practice-wheels");
    if (document.open(home + "/../proofing-box").isEmpty()) {
        document.settle();
        begin("stir");
        page.showView(TunePage::View::Calibrate);
        shoot("tune-calibrate");
        page.calibration()->begin("duty-sweep");
        wait(100);
        if (auto* sweep = page.findChild<QPushButton*>("sweepStart")) sweep->click();
        for (int i = 0; i < 2400 && page.calibration()->sweeping(); ++i) wait(50);
        shoot("tune-sweep");
    }
    if (document.open(home + "/../tightrope-rider").isEmpty()) {
        document.settle();
        begin("left");
        page.showView(TunePage::View::Response);
        step(8.0);
        page.settle();
        shoot("tune-balance");
    }
    static_cast<void>(document.open(home));
    document.settle();
    session.setTrialFolder({});
}

// The same in the dark, and with large text on a small window.
void darkAndLarge(MainWindow& window, const std::function<void(const QString&)>& shoot, const QString& name) {
    useDark(true);
    window.applyTheme();
    shoot(name + "-dark");
    useDark(false);
    setScale(1.5);
    window.applyTheme();
    window.resize(1100, 700);
    shoot(name + "-large-text");
    setScale(1.0);
    window.applyTheme();
    window.resize(1280, 800);
}

// The first power-up in hand and at arm's length, pieces tried, fits, and a fault that is looked for.
void proveShots(MainWindow& window, Document&, const std::function<void(const QString&)>& shoot) {
    const int stage = static_cast<int>(hinge::project::Stage::Prove);
    auto& page = *window.prove();
    window.go("rain", stage);
    page.showView(ProvePage::View::BringUp);
    page.choose("rain.running");
    shoot("prove-step");
    page.setLarge(true);
    shoot("prove-large");
    page.setLarge(false);
    page.choose({});
    window.go("moon", stage);
    page.showView(ProvePage::View::Samples);
    shoot("prove-samples");
    page.showView(ProvePage::View::Fit);
    shoot("prove-fit");
    window.go("curtain", stage);
    shoot("prove-fit-belt");
    darkAndLarge(window, shoot, "prove-fit");
    window.go("turntable", stage);
    page.showView(ProvePage::View::Faults);
    shoot("prove-fault-first");
    for (const auto& [test, outcome] : {std::pair{"symptom", "nothing"}, std::pair{"wire", "right"}, std::pair{"enable", "awake"}})
        page.faults()->take(test, outcome);
    shoot("prove-fault");
    page.faults()->practise(14);
    for (int i = 0; i < 12; ++i)
        if (auto* answer = window.findChild<QPushButton*>("practiceAnswer")) answer->click(), wait(60);
    shoot("prove-fault-found");
    page.showView(ProvePage::View::BringUp);
}

// What happened, an earlier state against now, parts and money, care, and the packet.
void logShots(MainWindow& window, Document& document, const std::function<void(const QString&)>& shoot) {
    document.apply(std::vector<hinge::project::FactEdit>{{"channels/rain/drive/gate_resistor", "220 ohm"}});
    document.apply(
        std::vector<hinge::project::FactEdit>{{"channels/turntable/pin", "D11"}, {"routine/loops/spin_speed/proportional", "12"}});
    window.go("rain", static_cast<int>(hinge::project::Stage::Log));
    auto& page = *window.log();
    page.look(0);
    shoot("log-changes");
    document.undo();
    document.undo();
    page.showView(LogPage::View::Journal);
    shoot("log-journal");
    darkAndLarge(window, shoot, "log-journal");
    page.showView(LogPage::View::Wiring);
    shoot("log-wiring");
    page.showView(LogPage::View::Parts);
    if (auto* ask = window.findChild<QPushButton*>("instead_servo_metal_15kg")) ask->click();
    shoot("log-parts");
    page.showView(LogPage::View::Upkeep);
    page.upkeep()->setToday(QDate(2026, 11, 26));
    shoot("log-upkeep");
    page.showView(LogPage::View::Packet);
    shoot("log-packet");
    page.showView(LogPage::View::Journal);
}

// Tune with a loop in sight.
void stepShots(MainWindow& window, Document& document, int stage, const QString& channel,
               const std::function<void(const QString&)>& shoot) {
    // The stand-in for real: two steps of what is held by a loop, too eager and well.
    auto& page = *window.tune();
    auto& session = page.session();
    const auto loop = document.model().project.routine.loops.front();
    QTemporaryDir trials;
    session.setTrialFolder(trials.path().toStdString());
    window.go(text(loop.channel), stage);
    session.startStandIn();
    for (int i = 0; i < 200 && !(session.connected() && session.telemetry().size() > 60); ++i) wait(50);
    for (const auto& [p, i] : {std::pair{2.0, 16.0}, std::pair{hinge::si(loop.proportional), hinge::si(loop.integral)}}) {
        page.setGain('P', p), page.setGain('I', i);
        wait(300);
        session.startStep(text(loop.id), 4.0);
        for (int k = 0; k < 400 && session.recording(); ++k) wait(50);
    }
    page.settle();
    shoot(QString("%1-%2").arg(stage + 1).arg(hinge::nameOf(static_cast<hinge::project::Stage>(stage))));
    session.setTrialFolder({});
    window.go(channel, stage);
}

// The supply over time; a rail that is too weak, and cells.
void feedShots(MainWindow& window, Document& document, const std::function<void(const QString&)>& shoot) {
    document.play({{0.5, "scene", true, "", {}, false}, {0.7, "scene", false, "", {}, false}});
    window.go("moon", 2);
    window.feed()->settle();
    for (const auto& [view, name] : {std::pair{FeedPage::View::Scene, "feed-scene"}, std::pair{FeedPage::View::Worst, "feed-worst"},
                                     std::pair{FeedPage::View::Day, "feed-day"}}) {
        window.feed()->showView(view);
        wait(200);
        shoot(name);
    }
    // A fault made on purpose: a servo rail that cannot give what it is asked for.
    document.apply(std::vector<hinge::project::FactEdit>{{"channels/moon/rail", "logic"},
                                                         {"rails/logic/conversion", "buck"},
                                                         {"rails/logic/limit", "0.5 A"},
                                                         {"rails/logic/bulk", "220 uF"},
                                                         {"rails/logic/bulk_esr", "0.12 ohm"}});
    document.settle();
    window.go("moon", 2);
    window.feed()->settle();
    window.feed()->showView(FeedPage::View::Worst);
    window.feed()->chart()->setRange(0.45, 0.75);
    shoot("feed-low");
    document.undo();
    document.apply(std::vector<hinge::project::FactEdit>{{"sources/adapter/kind", "battery"},
                                                         {"sources/adapter/series", "3"},
                                                         {"sources/adapter/capacity", "2.6 Ah"},
                                                         {"sources/adapter/cell_resistance", "40 mohm"}});
    document.settle();
    window.go({}, 2);
    window.feed()->settle();
    window.feed()->showView(FeedPage::View::Scene);
    wait(200);
    shoot("feed-battery");
    document.undo();
    window.feed()->showView(FeedPage::View::Scene);
}

// What ran, what differs, and what a maker wrote by hand.
void codeShots(MainWindow& window, Document& document, const std::function<void(const QString&)>& shoot) {
    window.go("curtain", 4);
    window.pulse()->runSketch();
    window.pulse()->settle();
    shoot("pulse-run");
    window.pulse()->edges()->setRange(3.50, 3.506);
    shoot("pulse-run-close");
    window.pulse()->showPlanned(true);
    window.go("rain", 6);
    document.apply(hinge::project::FactEdit{"channels/rain/signal/soft_start", "0.5 s"});
    document.apply(hinge::project::FactEdit{"routine/cues/fog/moves/mist_blows/time", "15 s"});
    document.settle();
    window.code()->show(CodePage::View::Difference);
    shoot("code-difference");
    document.undo();
    document.undo();
    document.settle();
    window.code()->show(CodePage::View::Runtime);
    shoot("code-runtime");
    // A sample of somebody's own lies beside the demos in the source tree only.
    if (const QString own = document.folder() + "/../../tests/sketches/blocking.ino"; QFileInfo::exists(own)) {
        window.code()->examine(own);
        window.code()->settle();
        shoot("code-own");
    }
    window.code()->show(CodePage::View::Sketch);
}

// The handbook's own window: a page of recipes, the words, the keys.
int handbookShots(MainWindow& window, const QString& folder) {
    int failed = 0;
    window.handbook()->resize(1000, 760);
    for (const char* page : {"recipes", "words", "keys"}) {
        window.handbook()->openAt(0);
        window.handbook()->openPage(page);
        wait(200);
        if (!window.handbook()->grab().save(folder + "/handbook-" + page + ".png")) ++failed;
    }
    window.handbook()->close();
    return failed;
}

// Wires, boards and ways to build.
void pinsShots(MainWindow& window, Document& document, const std::function<void(const QString&)>& shoot) {
    window.go("mist", 3);
    for (const auto& [view, name] : {std::pair{PinsPage::View::Wires, "pins-wires"}, std::pair{PinsPage::View::Boards, "pins-boards"},
                                     std::pair{PinsPage::View::Builds, "pins-builds"}}) {
        window.pins()->showView(view);
        shoot(name);
    }
    // A wire pointed at in the list is lit up in the drawing and at the board.
    window.pins()->showView(PinsPage::View::Wires);
    if (auto* list = window.findChild<QTableWidget*>("wireTable")) list->setCurrentCell(27, 0);
    shoot("pins-wires-lit");
    useDark(true);
    setScale(1.5);
    window.applyTheme();
    window.resize(1100, 700);
    shoot("pins-wires-dark-large-text");
    useDark(false);
    setScale(1.0);
    window.applyTheme();
    window.resize(1280, 800);
    window.pins()->showView(PinsPage::View::Board);
    shoot("pins-board-lit");
    for (const char* form : {"atmega2560-16mhz", "rp2040", "esp32"}) {
        document.apply(plan::editsFor(plan::onBoard(document.model().project, document.model().plan, *named<board::BoardForm>(form))));
        document.settle();
        window.go("mist", 3);
        shoot(QString("pins-") + form);
        document.undo();
    }
}

// Another pair on trial, and several side by side.
void swapShots(MainWindow& window, const std::function<void(const QString&)>& shoot) {
    // A swap on trial, and three side by side.
    window.go("moon", 1);
    window.match()->tryPair("servo_standard_plastic", "straight_from_pin", {});
    shoot("moon-swap");
    window.match()->compare({{"servo_standard_plastic", "straight_from_pin"}, {"small_6v_g150", "bridge_1a_mini"}});
    window.go("mist", 1);
    window.go("moon", 1);
    window.match()->compare({{"servo_standard_plastic", "straight_from_pin"}, {"small_6v_g150", "bridge_1a_mini"}});
    shoot("moon-compare");
}

// What breaks, what is violated, and a full page of sentences.
void brokenShots(MainWindow& window, Document& document, const QString& channel, const std::function<void(const QString&)>& shoot) {
    document.apply(hinge::project::FactEdit{"channels/" + channel.toStdString() + "/drive/part", "mosfet_ordinary_55v"});
    document.settle();
    window.go(channel, 1);
    shoot("match-breaks");
    window.showCrossbar();
    shoot("crossbar-breaks");
    document.undo();
    document.apply(hinge::project::FactEdit{"routine/cues/storm/guards/dry/throughout", "no"});
    document.settle();
    window.go(channel, 5);
    shoot("routine-violated");
    document.undo();
    for (const char* pattern : {"flame", "season", "lost-link"})
        if (auto made = hinge::project::insertPattern(document.model().project, pattern, "rain")) document.replace(std::move(*made));
    document.settle();
    window.go("rain", 5);
    if (auto* sentences = window.findChild<QTextBrowser*>("routineText"))
        sentences->verticalScrollBar()->setValue(sentences->verticalScrollBar()->maximum());
    wait(600);
    shoot("routine-states");
    for (int i = 0; i < 3; ++i) document.undo();
}

// In the dark, in large type, and with nothing in it.
void otherLooks(MainWindow& window, Document& document, const QString& channel, const std::function<void(const QString&)>& shoot) {
    useDark(true);
    window.applyTheme();
    document.settle();
    window.showCrossbar();
    shoot("crossbar-dark");
    window.go(channel, 1);
    shoot("match-dark");
    useDark(false);
    setScale(1.5);
    window.applyTheme();
    window.resize(1100, 700);
    window.showCrossbar();
    shoot("crossbar-large-text");
    window.go(channel, 2);
    shoot("feed-large-text");
    setScale(1.0);
    window.applyTheme();
    document.newGadget();
    window.showCrossbar();
    shoot("empty");
}

}  // namespace

int shots(MainWindow& window, Document& document, const QString& folder, const QString& which) {
    const bool all = which == "all";
    QDir().mkpath(folder);
    document.setAutosaving(false);
    window.resize(1280, 800);
    window.show();
    document.settle();
    int failed = 0;
    const auto shoot = [&](const QString& name) {
        wait(120);
        // On a busy machine the columns may still be finding their heights: until two looks are alike, or something in it moves for ever.
        QImage seen = window.grab().toImage();
        for (int looks = 0; looks < 8; ++looks) {
            wait(60);
            const QImage again = window.grab().toImage();
            if (again == seen) break;
            seen = again;
        }
        if (!seen.save(folder + "/" + name + ".png")) ++failed;
    };
    const QString channel = document.model().project.channels.empty() ? QString() : text(document.model().project.channels.front().id);
    if (which == "prove") return proveShots(window, document, shoot), failed;
    if (which == "handbook") return handbookShots(window, folder);
    if (which == "pins") return pinsShots(window, document, shoot), failed;
    if (which == "log") return logShots(window, document, shoot), window.savePacket(folder + "/packet.pdf"), failed;
    window.showCrossbar();
    shoot("0-crossbar");
    for (int stage = 0; stage < hinge::project::stageCount; ++stage) {
        window.go(channel, stage);
        if (stage == static_cast<int>(hinge::project::Stage::Tune) && !document.model().project.routine.loops.empty()) {
            stepShots(window, document, stage, channel, shoot);
            continue;
        }
        if (stage == static_cast<int>(hinge::project::Stage::Feed)) window.feed()->settle(), wait(200);
        shoot(QString("%1-%2").arg(stage + 1).arg(hinge::nameOf(static_cast<hinge::project::Stage>(stage))));
    }
    if (all) {
        window.go({}, 0);
        shoot("brief");
        for (const auto& each : document.model().project.channels) {
            for (const int stage : {0, 1, 4}) {
                window.go(text(each.id), stage);
                shoot(QString("%1-%2").arg(text(each.id), hinge::nameOf(static_cast<hinge::project::Stage>(stage))));
            }
        }
        proveShots(window, document, shoot);
        logShots(window, document, shoot);
        window.showParts();
        if (auto* parts = window.findChild<PartsWindow*>()) {
            wait(120);
            if (!parts->grab().save(folder + "/parts.png")) ++failed;
            parts->close();
        }
        failed += handbookShots(window, folder);
        feedShots(window, document, shoot);
        codeShots(window, document, shoot);
        pinsShots(window, document, shoot);
        swapShots(window, shoot);
        tuneShots(window, document, shoot);
        brokenShots(window, document, channel, shoot);
        otherLooks(window, document, channel, shoot);
    }
    return failed;
}

}  // namespace hinge::app
