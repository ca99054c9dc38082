// Pieces tried, parts and money, care, lessons: what the maker writes down, and what follows from it.
#include <algorithm>
#include <array>
#include <set>
#include <span>
#include "journal/run_recorder.hpp"
#include "proof/account.hpp"
#include "proof/fault_finder.hpp"
#include "proof/inspection.hpp"
#include "proof/lessons.hpp"
#include "proof/link_reading.hpp"
#include "proof/proved.hpp"
#include "proof/upkeep.hpp"
#include "support/demo.hpp"

namespace hinge::proof {
namespace {

class BenchLog : public testing::Test {
protected:
    project::Project project_ = test::exampleProject("paper-moon-stage");
    project::Parts parts_ = test::shippedParts();
};

// ---- Pieces tried

project::Project withPiece(project::Project project, const std::string& id,
                           const std::vector<std::pair<const char*, const char*>>& readings) {
    for (const auto& [field, text] : readings) {
        auto changed = recordSample(std::move(project), "servo_micro_digital", id, field, text, "2026-11-26");
        EXPECT_TRUE(changed) << field;
        project = std::move(*changed);
    }
    return project;
}

class Pieces : public BenchLog {
protected:
    Pieces() { project_.journal.samples.clear(); }
    [[nodiscard]] JudgedSample judged(const std::vector<std::pair<const char*, const char*>>& readings) const {
        const auto bags = inspect(withPiece(project_, "one", readings), parts_);
        EXPECT_EQ(bags.size(), 1U);
        return bags.empty() || bags.front().samples.empty() ? JudgedSample{} : bags.front().samples.front();
    }
};

// The catalogue's servo stands still at 10 mA and turns 180°: the limits are the data sheet's, the verdicts by hand.
TEST_F(Pieces, areAcceptedSuspectOrRejected) {
    EXPECT_EQ(judged({{"current", "10 mA"}, {"range", "180 deg"}}).verdict, Verdict::Holds);
    EXPECT_EQ(judged({{"range", "171 deg"}}).verdict, Verdict::Holds) << "equal to the limit is within it";
    EXPECT_EQ(judged({{"range", "165 deg"}}).verdict, Verdict::Tight) << "5 % off is the limit, 8 % is suspect";
    EXPECT_EQ(judged({{"range", "158 deg"}}).verdict, Verdict::Breaks) << "more than twice as far off";
    EXPECT_EQ(judged({{"current", "10 mA"}, {"range", "150 deg"}}).verdict, Verdict::Breaks) << "one bad reading is enough";
    EXPECT_EQ(judged({{"name", "untouched"}}).verdict, Verdict::Unknown);
}

TEST_F(Pieces, ofWhichTheSameMoveEndsApart) {
    EXPECT_EQ(judged({{"places", "41.2 deg, 41.5, 41.9"}}).verdict, Verdict::Holds);
    const auto loose = judged({{"places", "41.2 deg, 42.7 deg, 41.9 deg"}});
    EXPECT_EQ(loose.verdict, Verdict::Tight) << "1.5° apart";
    ASSERT_TRUE(loose.repeat);
    EXPECT_NEAR(*loose.repeat, 1.5 * 3.14159265358979 / 180, 1e-9);
    EXPECT_EQ(judged({{"places", "41.2 deg, 44.2 deg, 41.9 deg"}}).verdict, Verdict::Breaks);
}

TEST(Places, takeTheirUnitFromTheirNeighbours) {
    for (const char* text : {"41.2 deg, 41.5, 41.3", "41.2, 41.5, 41.3 deg", " 41.2deg ;41.5;41.3"}) {
        const auto places = parsePlaces(text);
        ASSERT_TRUE(places) << text;
        ASSERT_EQ(places->values.size(), 3U) << text;
        EXPECT_NEAR(places->values[1], 41.5 * 3.14159265358979 / 180, 1e-9) << text;
    }
    EXPECT_EQ(parsePlaces("12.1 mm, 12.3").value().kind, Kind::Length);
    EXPECT_FALSE(parsePlaces("41.2, 41.5")) << "degrees or millimetres?";
    EXPECT_FALSE(parsePlaces("41.2 deg, 12 mm"));
    EXPECT_FALSE(parsePlaces("about 41 deg"));
}

TEST_F(Pieces, aReadingOfAnotherKindIsRefusedAndNothingIsLost) {
    const auto one = withPiece(project_, "one", {{"current", "10 mA"}});
    const auto refused = recordSample(one, "servo_micro_digital", "one", "current", "180 deg", "2026-11-26");
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().code, ErrorCode::WrongUnit);
    EXPECT_FALSE(recordSample(one, "servo_micro_digital", "one", "current", "lots", "2026-11-26"));
    EXPECT_FALSE(recordSample(one, "servo_micro_digital", "one", "colour", "blue", "2026-11-26"));
}

TEST_F(Pieces, oneUnlikeTheOthersIsSuspectThoughItsDataSheetAllowsIt) {
    auto project = project_;
    const char* const currents[] = {"9.8 mA", "10.1 mA", "10.0 mA", "9.9 mA", "10.2 mA", "18 mA"};
    for (std::size_t i = 0; i < std::size(currents); ++i)
        project = withPiece(project, "piece" + std::to_string(i), {{"current", currents[i]}});
    const auto bags = inspect(project, parts_);
    ASSERT_EQ(bags.size(), 1U);
    EXPECT_EQ(bags[0].accepted, 5);
    EXPECT_EQ(bags[0].samples[5].verdict, Verdict::Tight) << "18 mA is allowed by the data sheet, and strange in this bag";
}

TEST_F(Pieces, rejectedOnesAreAFindingAndAnAcceptedOneCuresTheWarning) {
    auto before = plan::evaluate(project_, parts_);
    ASSERT_NE(test::finding(before, "sample-first"), nullptr) << "the demo has an untested part";
    auto good = withPiece(project_, "one", {{"range", "180 deg"}});
    const auto cured = withInspection(before, good, inspect(good, parts_));
    const auto of = [&](const plan::Plan& plan, const std::string& channel) {
        return std::any_of(plan.findings.begin(), plan.findings.end(),
                           [&](const plan::PlanFinding& f) { return f.id == "sample-first" && f.channel == channel; });
    };
    EXPECT_TRUE(of(before, "moon"));
    EXPECT_FALSE(of(cured, "moon"));
    auto bad = withPiece(good, "two", {{"range", "90 deg"}});
    EXPECT_NE(test::finding(withInspection(before, bad, inspect(bad, parts_)), "sample-rejected"), nullptr);
}

// ---- Parts and money

const AccountLine& lineOf(const Account& account, const std::string& id) {
    return *std::find_if(account.lines.begin(), account.lines.end(), [&](const AccountLine& line) { return line.id == id; });
}

TEST_F(BenchLog, countsAgreeWithThePlan) {
    project_.journal.stock.clear();
    const auto plan = plan::evaluate(project_, parts_);
    EXPECT_FALSE(lineOf(account(project_, parts_, plan), "mosfet_logic_30v").in_hand) << "nobody has counted";
    for (const auto& [count, spares, verdict, missing] :
         {std::tuple{"0", "0", Verdict::Breaks, 1}, std::tuple{"1", "0", Verdict::Holds, 0}, std::tuple{"1", "2", Verdict::Tight, 2},
          std::tuple{"3", "2", Verdict::Holds, 0}}) {
        auto counted = recordStock(project_, "mosfet_logic_30v", "in_hand", count);
        ASSERT_TRUE(counted);
        counted = recordStock(*counted, "mosfet_logic_30v", "spares", spares);
        ASSERT_TRUE(counted);
        const auto made = account(*counted, parts_, plan);
        const auto& line = lineOf(made, "mosfet_logic_30v");
        EXPECT_EQ(line.verdict, verdict) << count << ' ' << spares;
        EXPECT_EQ(line.missing, missing) << count << ' ' << spares;
        EXPECT_EQ(test::finding(withAccount(plan, made), "parts-short") != nullptr, verdict == Verdict::Breaks);
    }
    EXPECT_FALSE(recordStock(project_, "mosfet_logic_30v", "in_hand", "some"));
    EXPECT_FALSE(recordStock(project_, "mosfet_logic_30v", "in_hand", "-1"));
    EXPECT_FALSE(recordStock(project_, "mosfet_logic_30v", "lead_time", "2 kg"));
}

TEST_F(BenchLog, theSumIsPartsJournalAndPosting) {
    project_.journal.stock.clear();
    const auto plan = plan::evaluate(project_, parts_);
    const auto made = account(project_, parts_, plan);
    double by_hand = 0.0;
    for (const auto& line : made.lines)
        if (line.price) by_hand += si(*line.price) * line.needed;
    EXPECT_NEAR(made.parts, by_hand, 1e-9);
    EXPECT_NEAR(made.spent(), by_hand + 18.6 + 11.2 + 6.4 + 9.8, 1e-9) << "the demo's three costs and its posting";
    EXPECT_NEAR(made.to_buy, by_hand, 1e-9) << "nothing counted, all to be bought";
}

TEST_F(BenchLog, theSlowestOfWhatIsMissingSetsTheWait) {
    project_.journal.stock.clear();
    auto one = *recordStock(project_, "bridge_3a", "lead_time", "10 d");
    one = *recordStock(one, "mosfet_logic_30v", "lead_time", "3 weeks");
    const auto plan = plan::evaluate(project_, parts_);
    EXPECT_NEAR(si(*account(one, parts_, plan).longest), 21 * 86400.0, 1e-6);
    one = *recordStock(one, "mosfet_logic_30v", "in_hand", "4");
    EXPECT_NEAR(si(*account(one, parts_, plan).longest), 10 * 86400.0, 1e-6) << "what lies there is not waited for";
}

TEST_F(BenchLog, aSubstituteDoesTheWorkAndSaysWhatChanges) {
    const auto plan = plan::evaluate(project_, parts_);
    const auto found = substituteFor(project_, parts_, plan, "mosfet_logic_30v");
    ASSERT_TRUE(found);
    EXPECT_NE(found->id, "mosfet_logic_30v");
    EXPECT_TRUE(found->verdict == Verdict::Holds || found->verdict == Verdict::Tight);
    EXPECT_FALSE(found->verify.empty());
    EXPECT_TRUE(std::any_of(found->by_hand.begin(), found->by_hand.end(),
                            [](const std::string& each) { return each.find("pin order") != std::string::npos; }));
    // It really is put in and worked out: the channel with it has that verdict.
    const auto swapped = test::edited(project_, {{"channels/rain/drive/part", found->id}});
    EXPECT_EQ(plan::findChannel(plan::evaluate(swapped, parts_), "rain")->chosen->verdict, found->verdict);
    EXPECT_FALSE(substituteFor(project_, parts_, plan, "no_such_part"));
}

TEST_F(BenchLog, aBurnedPartIsNamedByTheFaultThatBurnsIt) {
    const auto& rain = project_.channels.front();
    EXPECT_EQ(partGone(rain, "driver_shorted"), rain.drive.part);
    EXPECT_EQ(partGone(rain, "winding_open"), rain.actuator);
    EXPECT_EQ(partGone(rain, "ground_loose"), "");
}

TEST_F(BenchLog, aFailureTakesItsPartOutOfTheDrawerAndNoOther) {
    project_.journal.stock = {{"mosfet_logic_30v", of<Count>(2.0), of<Count>(0.0), {}, ""},
                              {"bridge_3a", of<Count>(1.0), of<Count>(0.0), {}, ""}};
    auto failure = project::newEntry(project_, "entry", journal::EntryKind::Failure, "rain", "2026-11-26T10:00");
    failure.part = "mosfet_logic_30v";
    auto after = noteFailure(project_, failure);
    EXPECT_EQ(after.journal.entries.back(), failure);
    EXPECT_EQ(si(after.journal.stock[0].in_hand), 1.0);
    EXPECT_EQ(si(after.journal.stock[1].in_hand), 1.0);
    for (int k = 0; k < 3; ++k)
        after = noteFailure(after, project::newEntry(after, "entry", journal::EntryKind::Failure, "rain", "2026-11-26T10:00"));
    EXPECT_EQ(si(after.journal.stock[0].in_hand), 1.0) << "a failure of nothing in particular takes nothing";
    for (int k = 0; k < 3; ++k) after = noteFailure(after, failure);
    EXPECT_EQ(si(after.journal.stock[0].in_hand), 0.0) << "never fewer than none";
    EXPECT_EQ(partName(parts_, "bridge_3a"), project::findDriver(parts_, "bridge_3a")->name);
    EXPECT_EQ(partName(parts_, "gone_from_the_catalogue"), "gone_from_the_catalogue");
}

TEST_F(BenchLog, everyNewLineHasAnIdOfItsOwn) {
    std::set<std::string> ids;
    for (const auto& each : project_.journal.entries) ids.insert(each.id);
    const auto before = ids.size();
    for (int k = 0; k < 50; ++k) {
        project_.journal.entries.push_back(project::newEntry(project_, "check", journal::EntryKind::Measurement, "", "2026-11-26T10:00"));
        ids.insert(project_.journal.entries.back().id);
    }
    EXPECT_EQ(ids.size(), before + 50);
}

// ---- What is read off the link

// A sample every 5 ms; on from 0.1 s to 0.35 s and again from 0.6 s.
capture::Recording recorded() {
    capture::Recording made(1);
    for (std::uint32_t ms = 0; ms <= 1000; ms += 5) {
        const float value = (ms >= 100 && ms < 350) || ms >= 600 ? 0.5F : 0.0F;
        made.add(ms, std::span(&value, 1));
    }
    return made;
}

TEST(LinkReading, countsFramesByTheBoardsTime) {
    const auto made = recorded();
    EXPECT_NEAR(framesASecond(made, 0).value(), 200.0, 1e-9) << "one every 5 ms";
    EXPECT_NEAR(framesASecond(made, 100).value(), 200.0, 1e-9) << "from any sample on";
    EXPECT_FALSE(framesASecond(made, 200)) << "no time has gone by at the last one";
    EXPECT_FALSE(framesASecond(capture::Recording(1), 0));
}

TEST(LinkReading, timesTheFirstRunOnly) {
    const auto made = recorded();
    const auto first = firstOnTime(made, 0, 0);
    EXPECT_TRUE(first.began);
    EXPECT_NEAR(first.lasted.value(), 0.25, 1e-9);
    const auto last = firstOnTime(made, 0, made.from(0.4));
    EXPECT_TRUE(last.began);
    EXPECT_FALSE(last.lasted) << "it is still on";
    EXPECT_FALSE(firstOnTime(made, 0, made.size()).began);
}

TEST(LinkReading, meansAreOfTheLastStretch) {
    const auto made = recorded();
    EXPECT_NEAR(meanOfLast(made, 0, 0.3), 0.5, 1e-9) << "on for all of it";
    // 0.25 s and 0.4 s of the last second at a half: 50 and 81 of 201 samples, by count.
    EXPECT_NEAR(meanOfLast(made, 0, 1.0), 0.5 * (50 + 81) / 201.0, 1e-9);
    EXPECT_EQ(countsOfLast(made, 0, 1.0), 0) << "0.33 of a count is none";
}

// ---- Care

TEST(Days, areCountedOnTheCalendar) {
    const auto same = [](timing::Date a, int year, int month, int day) { return a.year == year && a.month == month && a.day == day; };
    EXPECT_TRUE(same(daysAfter({2028, 2, 28}, 1), 2028, 2, 29)) << "2028 has a leap day";
    EXPECT_TRUE(same(daysAfter({2027, 2, 28}, 1), 2027, 3, 1));
    EXPECT_TRUE(same(daysAfter({2026, 11, 26}, 365), 2027, 11, 26));
    EXPECT_TRUE(same(daysAfter({2027, 1, 1}, -1), 2026, 12, 31));
}

TEST(Care, isDueTightOrOverdueByItsDays) {
    const auto due = [](const char* done, double days) {
        return careDue({{"it", "", "look at it", of<Duration>(days * 86400), done}}, {2026, 11, 26}).front();
    };
    EXPECT_EQ(due("2026-11-26", 90).verdict, Verdict::Holds);
    EXPECT_EQ(*due("2026-11-26", 90).days, 90);
    EXPECT_EQ(due("2026-11-01", 30).verdict, Verdict::Tight) << "in five days";
    EXPECT_EQ(*due("2026-10-27", 30).days, 0);
    EXPECT_EQ(due("2026-10-26", 30).verdict, Verdict::Breaks);
    EXPECT_EQ(*due("2026-10-26", 30).days, -1);
    EXPECT_EQ(due("", 30).verdict, Verdict::Unknown);
    EXPECT_EQ(due("last week", 30).verdict, Verdict::Unknown) << "no date";
}

TEST_F(BenchLog, careComesFromPartsPlaceAndUse) {
    project_.journal.care.clear();
    const auto plan = plan::evaluate(project_, parts_);
    const auto proposed = careProposed(project_, parts_, plan);
    const auto has = [&](const std::vector<Due>& list, const std::string& channel, const std::string& words) {
        return std::any_of(list.begin(), list.end(), [&](const Due& each) {
            return each.care.channel == channel && each.care.what.find(words) != std::string::npos;
        });
    };
    EXPECT_TRUE(has(proposed, "rain", "strainer"));
    EXPECT_TRUE(has(proposed, "mist", "dust"));
    EXPECT_TRUE(has(proposed, "curtain", "belt"));
    EXPECT_TRUE(has(proposed, "", "glands")) << "it stands in the wet";
    EXPECT_FALSE(has(careProposed(test::edited(project_, {{"brief/place", "indoors"}}), parts_, plan), "", "glands"));
    // The turntable turns 20 s at each of 14 scenes a week, so 40 s a day: by hand. Half of 500 h at that rate is far beyond a year.
    const auto on = onADay(project_, plan, "turntable");
    ASSERT_TRUE(on);
    EXPECT_NEAR(si(*on), 14 * 20 / 7.0, 0.2) << "its loop's first period, 60 ms, goes off each time";
    // One that is taken up is not proposed any more, and its day is kept.
    const auto done = careDone(project_, proposed.front().care, "2026-11-26");
    EXPECT_EQ(done.journal.care.size(), 1U);
    EXPECT_EQ(done.journal.care.front().done, "2026-11-26");
    EXPECT_EQ(done.journal.entries.size(), project_.journal.entries.size() + 1) << "and it stands in the journal";
    EXPECT_EQ(careProposed(done, parts_, plan).size(), proposed.size() - 1);
}

// ---- Lessons

TEST_F(BenchLog, aLessonComesUpAtItsStage) {
    auto other = project_;
    other.brief.name = "Another Theatre";
    const auto lessons = lessonsOf(project_);
    const auto burned =
        std::find_if(lessons.begin(), lessons.end(), [](const Lesson& each) { return each.text.find("diode") != std::string::npos; });
    ASSERT_NE(burned, lessons.end());
    EXPECT_EQ(burned->stage, project::Stage::Prove);
    const auto plan = withLessons(plan::evaluate(other, parts_), other, lessons);
    EXPECT_TRUE(std::any_of(plan.findings.begin(), plan.findings.end(), [](const plan::PlanFinding& f) {
        return f.id == "lesson" && f.stage == project::Stage::Prove && f.channel == "rain";
    }));
    EXPECT_EQ(test::finding(withLessons(plan::evaluate(project_, parts_), project_, lessons), "lesson"), nullptr)
        << "its own lessons are in its own journal";
}

// ---- The run log while it runs

journal::RunSight sight(double time, bool rain, bool storm, bool faulted = false) {
    journal::RunSight made;
    made.time = time;
    made.on = {rain};
    made.cues = {storm};
    made.faulted = faulted;
    return made;
}

TEST(RunRecorder, writesARowForEachTimeThatSomethingWasOn) {
    journal::RunRecorder recorder({"Rain"}, {"The storm"});
    EXPECT_TRUE(recorder.take(sight(1.0, false, false), 1000.0).empty());
    EXPECT_TRUE(recorder.take(sight(2.0, true, true), 1001.0).empty());
    EXPECT_TRUE(recorder.take(sight(3.0, true, true), 1002.0).empty());
    const auto rows = recorder.take(sight(4.99, false, false), 1003.99);
    ASSERT_EQ(rows.size(), 1U);
    EXPECT_EQ(rows[0].time, 1001.0);
    EXPECT_EQ(rows[0].trigger, "The storm");
    EXPECT_EQ(rows[0].action, "Rain");
    EXPECT_NEAR(*rows[0].duration, 2.99, 1e-9);
    EXPECT_EQ(rows[0].fault, "");
}

TEST(RunRecorder, namesTheCueThatDidNotGetWhatItWaitedForAndABoardThatStartedAnew) {
    journal::RunRecorder recorder({"Rain"}, {"The storm"});
    static_cast<void>(recorder.take(sight(10.0, true, true), 50.0));
    const auto fault = recorder.take(sight(11.0, true, false, true), 51.0);
    ASSERT_EQ(fault.size(), 1U);
    EXPECT_EQ(fault[0].trigger, "The storm");
    EXPECT_NE(fault[0].fault.find("in time"), std::string::npos);
    EXPECT_TRUE(recorder.take(sight(12.0, true, false, true), 52.0).empty()) << "said once";
    const auto anew = recorder.take(sight(0.2, false, false), 53.0);
    ASSERT_EQ(anew.size(), 2U) << "what was on as far as it was seen, and that the board started anew";
    EXPECT_NEAR(*anew[0].duration, 2.0, 1e-9);
    EXPECT_NE(anew[1].fault.find("anew"), std::string::npos);
    static_cast<void>(recorder.take(sight(1.0, true, true), 54.0));
    EXPECT_EQ(recorder.end().size(), 1U) << "the link has gone while it was on";
    EXPECT_TRUE(recorder.end().empty());
}

TEST(RunRecorder, writesWhatTheReaderReads) {
    journal::RunRow row;
    // 2026-11-26 04:05:06 is 9826 days after 2000-01-01: by the calendar, 26 years with 7 leap days, and 329 days.
    row.time = 9826 * 86400.0 + 4 * 3600 + 5 * 60 + 6;
    row.trigger = "start, or \"14:30\"";
    row.action = "Rain";
    row.duration = 2.99;
    row.current = 0.239;
    row.fault = "";
    const auto line = journal::runLogLine(row);
    EXPECT_EQ(line.substr(0, 20), "2026-11-26T04:05:06,");
    const auto read = journal::parseRunLog(journal::runLogHead() + line);
    ASSERT_TRUE(read);
    ASSERT_EQ(read->size(), 1U);
    EXPECT_EQ(read->front().time, row.time);
    EXPECT_EQ(read->front().trigger, row.trigger);
    EXPECT_EQ(read->front().duration, row.duration);
    EXPECT_EQ(read->front().current, row.current);
    EXPECT_FALSE(read->front().amount);
}

}  // namespace
}  // namespace hinge::proof
