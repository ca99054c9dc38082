// Trials on the disk, recordings of hours, calibrations.
#include "store/trials.hpp"
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>
#include <cmath>
#include <fstream>
#include <random>
#include "capture/recording.hpp"
#include "journal/run_log.hpp"
#include "journal/trial.hpp"
#include "plan/calibration.hpp"
#include "plan/machines.hpp"
#include "store/document.hpp"
#include "support/demo.hpp"
#include "support/folder.hpp"

namespace hinge {
namespace {

journal::Trial some() {
    journal::Trial trial;
    trial.id = "trial-3";
    trial.date = "2026-11-25T10:00:00";
    trial.channel = "turntable";
    trial.loop = "spin_speed";
    trial.on = "emulated board, the emitted sketch";
    trial.plan = "0a1b2c3d";
    trial.comment = "cold: first run, with \"the disc\" off";
    trial.settings = {{"spin_speed_proportional", 2560, "256ths"}, {"spin_speed_wanted", -21, "counts"}};
    for (int k = 0; k < 50; ++k)
        trial.rows.push_back({k * 0.06, k > 3 ? 21.0 : 0.0, 21.0 / 3.0 * std::sin(k), 0.1 + k / 7.0, -1.0 / 3.0 * k});
    return trial;
}
std::string whole(const journal::Trial& trial) {
    std::string text = journal::trialHead(trial);
    for (const auto& row : trial.rows) text += journal::trialLine(row);
    return text;
}

TEST(Trial, readsBackAsItWas) {
    const auto trial = some();
    const auto read = journal::parseTrial(whole(trial));
    ASSERT_TRUE(read) << sentence(read.error());
    EXPECT_EQ(*read, trial);
}

// Cut anywhere: what stood in whole lines is there, and nothing else.
TEST(Trial, survivesBeingCutAnywhere) {
    const auto trial = some();
    const auto text = whole(trial);
    const auto head = journal::trialHead(trial).size();
    for (std::size_t cut = head; cut <= text.size(); cut += 7) {
        const auto read = journal::parseTrial(std::string_view{text}.substr(0, cut));
        ASSERT_TRUE(read) << cut;
        const auto lines = static_cast<std::size_t>(
            std::count(text.begin() + static_cast<std::ptrdiff_t>(head), text.begin() + static_cast<std::ptrdiff_t>(cut), '\n'));
        ASSERT_EQ(read->rows.size(), lines) << cut;
        for (std::size_t k = 0; k < lines; ++k) EXPECT_EQ(read->rows[k], trial.rows[k]);
    }
    for (std::size_t cut = 0; cut + 1 < head; cut += 3)
        EXPECT_FALSE(journal::parseTrial(std::string_view{text}.substr(0, cut))) << "without its columns it is no trial";
}

TEST(Trial, refusesWhatItCannotRead) {
    EXPECT_EQ(journal::parseTrial("time,speed\n1,2\n").error().field, "line 1");
    const std::string head = "time,wanted,reading,drive,value\n";
    EXPECT_EQ(journal::parseTrial(head + "1,2,3,4\n").error().field, "line 2");
    EXPECT_EQ(journal::parseTrial(head + "1,2,3,4,5\n1,2,nan,4,5\n").error().field, "line 3");
    EXPECT_EQ(journal::parseTrial(head + "1,2,3,4,5,6\n").error().field, "line 2");
    EXPECT_EQ(journal::parseTrial("# set gain much\n" + head).error().field, "line 1");
}

TEST(Trial, aLineBreakInAWordIsABlank) {
    auto trial = some();
    trial.comment = "two\nlines\r\n# set x 1";
    const auto read = journal::parseTrial(whole(trial));
    ASSERT_TRUE(read);
    EXPECT_EQ(read->settings, trial.settings);
    EXPECT_EQ(read->comment, "two lines  # set x 1");
}

TEST(Trial, saysWhatHasChanged) {
    auto from = some(), to = some();
    to.settings[0].value = 1280;
    to.settings.push_back({"spin_speed_band", 2, "counts"});
    const auto changes = journal::settingsChanged(from, to);
    ASSERT_EQ(changes.size(), 2U);
    EXPECT_EQ(changes[0], "spin_speed_proportional 2560 → 1280");
    EXPECT_EQ(changes[1], "spin_speed_band new: 2");
}

TEST(Trials, areWrittenRowByRowAndCountedOn) {
    test::TemporaryFolder folder;
    EXPECT_EQ(store::nextTrial(folder.path()), "trial-1");
    auto trial = some();
    for (const char* id : {"trial-2", "trial-10", "trial-9"}) {
        trial.id = id;
        auto writer = store::TrialWriter::begin(folder.path(), trial);
        ASSERT_TRUE(writer);
        for (std::size_t k = 0; k < trial.rows.size(); ++k) {
            ASSERT_TRUE(writer->add(trial.rows[k]));
            // As after a crash here: all rows so far are on the disk.
            if (k % 17 == 0) EXPECT_EQ(journal::parseTrial(*files::readWhole(writer->path()))->rows.size(), k + 1);
        }
    }
    std::ofstream(folder.path() / "trials" / "shopping.csv") << "milk,bread\n";
    const auto trials = store::readTrials(folder.path());
    ASSERT_EQ(trials.list.size(), 3U);
    EXPECT_EQ(trials.list[0].id, "trial-2");
    EXPECT_EQ(trials.list[2].id, "trial-10");
    ASSERT_EQ(trials.problems.size(), 1U);
    EXPECT_NE(trials.problems[0].find("shopping.csv"), std::string::npos);
    EXPECT_EQ(store::nextTrial(folder.path()), "trial-11");
    ASSERT_TRUE(store::commentTrial(folder.path(), "trial-9", "with the disc on"));
    EXPECT_EQ(store::readTrials(folder.path()).list[1].comment, "with the disc on");
    EXPECT_EQ(store::readTrials(folder.path()).list[1].rows, trial.rows);
    ASSERT_TRUE(store::removeTrial(folder.path(), "trial-9"));
    EXPECT_FALSE(store::removeTrial(folder.path(), "trial-9"));
    EXPECT_FALSE(store::removeTrial(folder.path(), "../project")) << "no way out of the folder";
    EXPECT_FALSE(store::TrialWriter::begin("/proc/nowhere", trial));
    // Saved elsewhere, they come along; what is there already stays.
    test::TemporaryFolder elsewhere;
    std::filesystem::create_directories(elsewhere.path() / "trials");
    std::ofstream(elsewhere.path() / "trials" / "trial-2.csv") << "mine";
    ASSERT_TRUE(store::takeAlong(folder.path(), elsewhere.path()));
    EXPECT_TRUE(std::filesystem::exists(elsewhere.path() / "trials" / "trial-10.csv"));
    EXPECT_EQ(*files::readWhole(elsewhere.path() / "trials" / "trial-2.csv"), "mine");
}

// The folder was moved away: there are none, what is asked of one is said to be missing, and once it is back all are there, counted on.
TEST(Trials, ofAFolderThatWasMovedAreMissedAndFoundAgain) {
    const test::TemporaryFolder folder;
    auto trial = some();
    for (const char* id : {"trial-1", "trial-2"}) {
        trial.id = id;
        auto writer = store::TrialWriter::begin(folder.path(), trial);
        ASSERT_TRUE(writer);
        for (const auto& row : trial.rows) ASSERT_TRUE(writer->add(row));
    }
    std::filesystem::rename(folder.path() / "trials", folder.path() / "elsewhere");
    const auto none = store::readTrials(folder.path());
    EXPECT_TRUE(none.list.empty());
    EXPECT_TRUE(none.problems.empty());
    const auto missing = store::commentTrial(folder.path(), "trial-2", "which was the best?");
    ASSERT_FALSE(missing);
    EXPECT_EQ(missing.error().code, ErrorCode::NotFound);
    EXPECT_FALSE(store::removeTrial(folder.path(), "trial-2"));
    std::filesystem::rename(folder.path() / "elsewhere", folder.path() / "trials");
    const auto again = store::readTrials(folder.path());
    ASSERT_EQ(again.list.size(), 2U);
    EXPECT_EQ(again.list[1].rows.size(), trial.rows.size());
    EXPECT_EQ(store::nextTrial(folder.path()), "trial-3");
}

RC_GTEST_PROP(Pyramid, saysTheLeastAndGreatestOfAnyStretch, ()) {
    const auto values = *rc::gen::container<std::vector<int>>(rc::gen::inRange(-1000, 1000));
    RC_PRE(!values.empty());
    // Long enough that three levels are used.
    capture::MinMaxPyramid pyramid;
    std::vector<float> plain;
    const auto size = static_cast<std::size_t>(*rc::gen::inRange(1, 1200));
    for (std::size_t k = 0; k < size; ++k) {
        plain.push_back(static_cast<float>(values[k % values.size()] + static_cast<int>(k * 37 % 101)));
        pyramid.add(plain.back());
    }
    const auto from = *rc::gen::inRange<std::size_t>(0, size), to = *rc::gen::inRange<std::size_t>(from + 1, size + 1);
    const auto [least, greatest] = pyramid.over(from, to);
    RC_ASSERT(least ==
              *std::min_element(plain.begin() + static_cast<std::ptrdiff_t>(from), plain.begin() + static_cast<std::ptrdiff_t>(to)));
    RC_ASSERT(greatest ==
              *std::max_element(plain.begin() + static_cast<std::ptrdiff_t>(from), plain.begin() + static_cast<std::ptrdiff_t>(to)));
}

TEST(Recording, givesEachColumnItsOwnExtremes) {
    capture::Recording recording(2);
    for (std::uint32_t ms = 0; ms < 10'000; ms += 5) {
        const std::array values{static_cast<float>(ms), ms == 5000 ? 9.0F : 1.0F};
        recording.add(ms, values);
    }
    const auto columns = recording.columns(1, 0.0, 10.0, 100);
    ASSERT_EQ(columns.size(), 100U);
    for (const auto& column : columns) EXPECT_EQ(column.greatest, column.column == 50 ? 9.0F : 1.0F) << column.column;
    EXPECT_EQ(recording.columns(0, 2.0, 2.1, 10).front().least, 2000.0F);
    EXPECT_TRUE(recording.columns(0, 20.0, 30.0, 10).empty());
    EXPECT_EQ(recording.from(5.0), 1000U);
    recording.add(3, std::array{0.0F, 0.0F});  // a board that has started anew does not go back in time
    EXPECT_GE(recording.time(recording.size() - 1), recording.time(recording.size() - 2));
}

TEST(Sweep, findsStartKeepAndBend) {
    std::vector<plan::SweepPoint> points;
    for (int k = 0; k <= 20; ++k) points.push_back({k / 20.0, k >= 8 ? 20.0 * k : 0.0, true});
    for (int k = 20; k >= 0; --k) points.push_back({k / 20.0, k >= 5 ? 20.0 * k : 0.0, false});
    const auto result = plan::readSweep(points);
    EXPECT_EQ(result.start, 0.4);
    EXPECT_EQ(result.keep, 0.25);
    EXPECT_EQ(result.most, 400.0);
    EXPECT_NEAR(result.bend, 0.0, 1e-12) << "a straight line";
    const auto back = plan::sweepPoints(plan::sweepText(points));
    ASSERT_EQ(back.size(), 21U);
    EXPECT_EQ(back[8].reading, 160.0);
    EXPECT_FALSE(plan::readSweep({}).start);
    EXPECT_FALSE(plan::readSweep({{1.0, 0.0, true}}).start) << "it never turned";
}

TEST(Calibration, offersWhatSuitsTheChannel) {
    const auto parts = test::shippedParts();
    const auto project = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project;
    const auto plan = plan::evaluate(project, parts);
    const auto ids = [&](const char* channel) {
        std::vector<std::string> list;
        for (const auto& run : plan::calibrationsFor(project, parts, plan, channel)) {
            EXPECT_FALSE(run.caution.empty()) << run.id << ": every run says what can hurt";
            EXPECT_FALSE(run.steps.empty());
            list.push_back(run.id);
        }
        return list;
    };
    using List = std::vector<std::string>;
    EXPECT_EQ(ids("moon"), List{"servo-ends"});
    EXPECT_EQ(ids("curtain"), (List{"there-and-back", "chopper-heat"}));
    EXPECT_EQ(ids("rain"), List{"cup-and-clock"});
    EXPECT_EQ(ids("turntable"), (List{"duty-sweep", "tach-scale", "stall", "jams-slow"}));
    EXPECT_TRUE(ids("lamps").empty());
    const auto rider = store::load(HINGE_SOURCE_DIR "/demos/tightrope-rider")->project;
    const auto runs = plan::calibrationsFor(rider, parts, plan::evaluate(rider, parts), "left");
    ASSERT_EQ(runs.size(), 2U);
    EXPECT_EQ(runs[0].id, "two-points");
    EXPECT_EQ(runs[1].id, "balance-angle");
}

// Each rule of tuning: one project that trips it, one that just does not, and where it has a remedy, that cures it.
struct Tripped {
    const char* demo;
    const char* id;
    std::vector<project::FactEdit> edits, just_not;
};
class TuningRules : public testing::TestWithParam<Tripped> {};
TEST_P(TuningRules, tripAndAreCured) {
    const auto& row = GetParam();
    const auto parts = test::shippedParts();
    const auto base = store::load(std::string{HINGE_SOURCE_DIR "/demos/"} + row.demo)->project;
    const auto finding = [&](const project::Project& project) {
        std::optional<plan::PlanFinding> found;
        for (const auto& each : plan::evaluate(project, parts).findings)
            if (each.id == row.id && each.stage == plan::Stage::Tune) found = each;
        return found;
    };
    const auto tripped = test::edited(base, row.edits);
    const auto said = finding(tripped);
    ASSERT_TRUE(said) << row.id;
    EXPECT_FALSE(finding(test::edited(base, row.just_not))) << row.id;
    for (const auto& remedy : said->remedies) EXPECT_FALSE(finding(test::edited(tripped, remedy.edits))) << row.id << ": " << remedy.label;
}
INSTANTIATE_TEST_SUITE_P(All, TuningRules,
                         testing::Values(Tripped{"tightrope-rider",
                                                 "loop-too-slow",
                                                 {{"routine/loops/left_upright/period", "10 ms"}},
                                                 {{"routine/loops/left_upright/period", "4 ms"}}},
                                         Tripped{"paper-moon-stage",
                                                 "loop-out-of-reach",
                                                 {{"routine/loops/spin_speed/wanted", "60"}},
                                                 {{"routine/loops/spin_speed/wanted", "40"}}},
                                         Tripped{"paper-moon-stage",
                                                 "loop-counts-coarsely",
                                                 {{"routine/loops/spin_speed/wanted", "9"}},
                                                 {{"routine/loops/spin_speed/wanted", "10"}}},
                                         Tripped{"paper-moon-stage",
                                                 "fan-below-start",
                                                 {{"channels/mist/calibration/start_duty", "0.4"}, {"channels/mist/signal/duty", "0.39"}},
                                                 {{"channels/mist/calibration/start_duty", "0.4"}, {"channels/mist/signal/duty", "0.4"}}},
                                         Tripped{"paper-moon-stage",
                                                 "jams-slow",
                                                 {{"channels/rain/calibration/jams_below", "0.6"}, {"channels/rain/signal/duty", "0.5"}},
                                                 {{"channels/rain/calibration/jams_below", "0.6"}, {"channels/rain/signal/duty", "0.6"}}},
                                         Tripped{"paper-moon-stage",
                                                 "step-too-fast",
                                                 {{"channels/curtain/calibration/highest_rate", "800 Hz"}},
                                                 {{"channels/curtain/calibration/highest_rate", "20 kHz"}}},
                                         Tripped{"paper-moon-stage",
                                                 "stall-over-plan",
                                                 {{"channels/turntable/calibration/stall_current", "1.4 A"}},
                                                 {{"channels/turntable/calibration/stall_current", "0.9 A"}}},
                                         Tripped{"paper-moon-stage",
                                                 "driver-hot",
                                                 {{"channels/curtain/calibration/chopper_current", "0.3 A"},
                                                  {"channels/curtain/calibration/chopper_temperature", "80 degC"}},
                                                 {{"channels/curtain/calibration/chopper_current", "1 A"},
                                                  {"channels/curtain/calibration/chopper_temperature", "40 degC"}}}),
                         [](const auto& each) {
                             std::string name = each.param.id;
                             std::replace(name.begin(), name.end(), '-', '_');
                             return name;
                         });

TEST(LoopCase, isWhatTheProjectSays) {
    const auto parts = test::shippedParts();
    const auto project = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project;
    const auto plan = plan::evaluate(project, parts);
    const auto made = plan::loopCase(project, parts, plan, "spin_speed");
    ASSERT_TRUE(made);
    // By hand: 700 pulses a turn, 60 ms, 21 counts: 0.5 turns a second, 30 rpm.
    EXPECT_EQ(made->scale.kind, Kind::RotationSpeed);
    EXPECT_NEAR(made->scale.valueOf(21.0) * 60.0 / (2.0 * 3.14159265358979), 30.0, 1e-9);
    // 10 permille a count; 8 more each 60 ms: 0.13333 a second.
    EXPECT_NEAR(made->setup.pid.gains.proportional, 0.01, 1e-12);
    EXPECT_NEAR(made->setup.pid.gains.integral, 0.008 / 0.06, 1e-12);
    const auto& rotor = std::get<plant::Rotor>(made->setup.machine.machine).figures();
    // By hand: R = 12/0.95; Ke = (12 − 0.075·R)/837.76 by 100; Kt = 11.9e-3/0.875 by 100 by 0.68; the disc 0.8·0.3²/8 and 20 ms of rotor.
    const double r = 12.0 / 0.95, ke = (12.0 - 0.075 * r) / 837.758 * 100.0, kt = 11.9e-3 / 0.875 * 68.0;
    EXPECT_NEAR(rotor.back, ke, 1e-4 * ke);
    EXPECT_NEAR(rotor.torque, kt, 2e-3 * kt);
    EXPECT_NEAR(rotor.inertia, 0.009 + 0.02 * kt * ke / rotor.resistance, 2e-3 * rotor.inertia);
    EXPECT_NEAR(rotor.friction, 0.06 + kt * 0.075, 2e-3 * rotor.friction);
    EXPECT_FALSE(plan::machinesOf(project, parts, plan).assumed.empty()) << "what is assumed is said";
    EXPECT_EQ(plan::loopCase(project, parts, plan, "none").error().code, ErrorCode::Unknown);
    routine::Loop loop = project.routine.loops.front();
    plan::takeGains(loop, made->setup.pid.gains, false);
    EXPECT_EQ(si(loop.proportional), 10.0);
    EXPECT_EQ(si(loop.integral), 8.0);
}

TEST(RemoveChannel, takesWithItWhatIsAboutIt) {
    auto project = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project;
    project.routine.followers.push_back({"f", "turntable", "scene"});
    project = project::removeChannel(project, "turntable");
    EXPECT_TRUE(project.routine.loops.empty());
    EXPECT_TRUE(project.routine.followers.empty());
    EXPECT_TRUE(plan::evaluate(project, test::shippedParts()).program) << "and the rest still compiles";
}

// By hand: four rows; an hour, a day, then the clock goes back two hours, and an hour on.
TEST(RunLog, addsUpWithGapsAndClockJumps) {
    const auto rows = journal::parseRunLog(
        "time,action,trigger,duration,amount,fault,current\n2026-11-20T10:00:00,rain,start,3,0.053,,0.24\n2026-11-20T11:00:00,rain,\"clock,"
        " set\",3,0.051,dry,0.31\r\n2026-11-21T11:00,rain,start,2.5,0.05,dry,\n2026-11-21T09:00:00,rain,start,3,,,0.2\n2026-11-21T10:00:00,"
        "rain,start,3,,,\n");
    ASSERT_TRUE(rows) << sentence(rows.error());
    EXPECT_EQ((*rows)[1].trigger, "clock, set");
    const auto t = journal::totalsOf(*rows);
    EXPECT_EQ(t.rows, 5);
    EXPECT_EQ(t.faults, 2);
    EXPECT_NEAR(t.on_time, 14.5, 1e-12);
    EXPECT_NEAR(t.amount, 0.154, 1e-12);
    EXPECT_EQ(t.jumps, 1);
    EXPECT_EQ(t.gaps, 0) << "a day is no gap yet";
    EXPECT_NEAR(t.days, 26.0 / 24.0, 1e-12) << "1 h + 24 h + 1 h; nothing across the jump";
    EXPECT_NEAR(*t.since_fault, 3600.0, 1e-9);
    EXPECT_NEAR(*t.between_faults, 86'400.0, 1e-9);
    EXPECT_EQ(*t.most_current, 0.31);
}
TEST(RunLog, refusesWhatItCannotRead) {
    EXPECT_EQ(journal::parseRunLog("").error().field, "file");
    EXPECT_EQ(journal::parseRunLog("when,what\n1,2\n").error().field, "line 1");
    EXPECT_EQ(journal::parseRunLog("time\nyesterday\n").error().field, "line 2");
    EXPECT_EQ(journal::parseRunLog("time\n2026-02-30T10:00\n").error().field, "line 2");
    EXPECT_EQ(journal::parseRunLog("time,current\n2026-11-20T10:00,nan\n").error().field, "line 2");
    EXPECT_TRUE(journal::totalsOf({}).rows == 0 && !journal::totalsOf({}).since_fault);
}

}  // namespace
}  // namespace hinge
