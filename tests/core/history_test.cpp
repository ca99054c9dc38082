// The history of a project: compared and restored exactly, whatever happened to its file.
#include "store/history.hpp"
#include <gtest/gtest.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>
#include <csignal>
#include <fstream>
#include <nlohmann/json.hpp>
#include <random>
#include <sstream>
#include "project/facts.hpp"
#include "store/document.hpp"
#include "store/json.hpp"
#include "support/demo.hpp"
#include "support/folder.hpp"

namespace hinge::store {
namespace {

project::Project stage() {
    return load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project;
}

History historyIn(const std::filesystem::path& path) {
    auto history = History::open(*files::Folder::open(path));
    EXPECT_TRUE(history) << sentence(history.error());
    return std::move(*history);
}

// One edit of a kind that a maker makes, by dice.
project::Project edited(project::Project project, std::mt19937& dice) {
    const auto pick = [&](std::size_t n) { return static_cast<std::size_t>(dice() % n); };
    const auto number = [&](double least, double most) {
        return std::to_string(least + (most - least) * static_cast<double>(dice() % 1000) / 1000.0);
    };
    const auto fact = [&](const std::string& path, const std::string& value) {
        if (auto changed = project::with(project, {{path, value}})) project = std::move(*changed);
    };
    const std::string channel = project.channels.empty() ? "" : "channels/" + project.channels[pick(project.channels.size())].id;
    switch (pick(12)) {
        case 0: fact(channel + "/signal/duty", number(0.1, 1.0)); break;
        case 1: fact(channel + "/drive/gate_resistor", number(100.0, 900.0)); break;
        case 2: fact(channel + "/name", "Name " + std::to_string(pick(100))); break;
        case 3: fact(channel + "/pin", "D" + std::to_string(2 + pick(11))); break;
        case 4: fact("brief/purpose", "line " + std::to_string(pick(1000)) + ", \"quoted\"\nand broken"); break;
        case 5: fact(channel + "/calibration/stall_current", pick(3) == 0 ? "" : number(0.1, 3.0)); break;
        case 6:
            if (project.channels.size() < 12)
                project = project::addChannel(std::move(project), static_cast<project::ChannelKind>(pick(7)),
                                              "Thing " + std::to_string(pick(20)));
            break;
        case 7:
            if (project.channels.size() > 2) project = project::removeChannel(project, project.channels[pick(project.channels.size())].id);
            break;
        case 8:
            project = project::moveChannel(project, project.channels[pick(project.channels.size())].id,
                                           static_cast<int>(pick(project.channels.size())));
            break;
        case 9:
            project.journal.entries.push_back({project::freshId("entry", {"x" + std::to_string(dice())}) + std::to_string(dice()),
                                               "2026-11-26T10:00", journal::EntryKind::Note, "", "a word " + std::to_string(pick(50)), "",
                                               "", "", "", "", std::nullopt});
            break;
        case 10:
            for (auto& loop : project.routine.loops) loop.proportional = of<Ratio>(static_cast<double>(pick(50)));
            break;
        default:
            for (auto& cue : project.routine.cues)
                if (!cue.moves.empty() && pick(2) == 0) cue.moves.pop_back();
    }
    return project;
}

// A history that was begun in format 1 is read, shown and gone on with in today's.
TEST(OldHistory, ofFormatOneGoesOn) {
    auto project = stage();
    project.inputs.front().kind = project::InputKind::Level;
    Json first = toJson(project);
    first["format"] = 1;
    first["inputs"][0].erase("active_high");
    Json second = first;
    second["inputs"][0]["below"] = true;
    test::TemporaryFolder folder;
    const Json lines[] = {{{"date", "2026-01-01T00:00:00"}, {"changes", Json::array()}, {"whole", first}},
                          {{"date", "2026-01-02T00:00:00"}, {"changes", Json::array()}, {"patch", Json::diff(first, second)}}};
    ASSERT_TRUE(files::writeWhole(folder.path() / "history.jsonl", lines[0].dump() + "\n" + lines[1].dump() + "\n"));
    auto history = historyIn(folder.path());
    ASSERT_EQ(history.size(), 2u);
    ASSERT_TRUE(history.at(0) && history.at(1));
    EXPECT_TRUE(project::activeHigh(history.at(0)->inputs.front()));
    EXPECT_FALSE(project::activeHigh(history.at(1)->inputs.front()));
    auto now = *history.at(1);
    ASSERT_TRUE(history.note(now, "2026-01-03T00:00:00", ""));
    EXPECT_EQ(history.size(), 2u) << "the same project in another format is no change";
    now.brief.purpose = "to be seen";
    ASSERT_TRUE(history.note(now, "2026-01-04T00:00:00", ""));
    const auto again = historyIn(folder.path());
    ASSERT_EQ(again.size(), 3u);
    ASSERT_EQ(again.entry(2).changes.size(), 1u);
    EXPECT_EQ(again.entry(2).changes.front().path, "brief/purpose");
    ASSERT_TRUE(again.at(2));
    EXPECT_EQ(*again.at(2), now);
}

TEST(History, athousandEditsAreComparedAndRestoredExactly) {
    test::TemporaryFolder folder;
    std::mt19937 dice(11);
    auto history = historyIn(folder.path());
    std::vector<project::Project> states{stage()};
    ASSERT_TRUE(history.note(states.back(), "2026-11-26T09:00"));
    while (states.size() <= 1000) {
        auto next = edited(states.back(), dice);
        if (next == states.back()) continue;
        ASSERT_TRUE(history.note(next, "2026-11-26T09:00:" + std::to_string(states.size())));
        states.push_back(std::move(next));
    }
    ASSERT_EQ(history.size(), states.size());
    const auto reopened = historyIn(folder.path());
    ASSERT_EQ(reopened.size(), states.size());
    for (std::size_t k = 0; k < states.size(); k += k < 60 ? 1 : 13) {
        const auto here = history.at(k), there = reopened.at(k);
        ASSERT_TRUE(here && there) << k;
        EXPECT_TRUE(*here == states[k]) << k;
        EXPECT_TRUE(*there == states[k]) << k;
        EXPECT_EQ(reopened.entry(k).changes, history.entry(k).changes);
        if (k > 0) EXPECT_EQ(history.entry(k).changes, changesBetween(states[k - 1], states[k])) << k;
        if (k > 0) EXPECT_FALSE(history.entry(k).changes.empty()) << k;
    }
    EXPECT_FALSE(history.at(states.size()));
    // The same state again is no entry, also after it was opened anew.
    auto again = historyIn(folder.path());
    ASSERT_TRUE(again.note(states.back(), "2026-11-27T09:00"));
    EXPECT_EQ(again.size(), states.size());
}

// Cut in the middle of any write: no more than the last line is lost, and it goes on from there.
TEST(History, aCrashInAnyWriteCostsTheLastLineAtMost) {
    test::TemporaryFolder folder;
    std::mt19937 dice(3);
    std::vector<project::Project> states{stage()};
    std::vector<std::size_t> ends;
    const auto file = folder.path() / "history.jsonl";
    {
        auto history = historyIn(folder.path());
        for (int k = 0; k < 8; ++k) {
            ASSERT_TRUE(history.note(states.back(), "2026-11-26T09:00"));
            if (k == 0) EXPECT_FALSE(std::filesystem::exists(file)) << "only looked at: nothing is left behind";
            if (k == 1) ends.push_back(files::readWhole(file)->find('\n') + 1);
            if (k > 0) ends.push_back(std::filesystem::file_size(file));
            auto next = edited(states.back(), dice);
            while (next == states.back()) next = edited(states.back(), dice);
            states.push_back(next);
        }
    }
    const auto text = *files::readWhole(file);
    for (std::size_t cut = 0; cut <= text.size(); cut += 211) {
        std::ofstream(file, std::ios::binary | std::ios::trunc) << text.substr(0, cut);
        auto history = historyIn(folder.path());
        // A line that only lacks its end is whole.
        const auto whole =
            static_cast<std::size_t>(std::count_if(ends.begin(), ends.end(), [cut](std::size_t end) { return end <= cut + 1; }));
        ASSERT_EQ(history.size(), whole) << cut;
        if (whole > 0) EXPECT_TRUE(*history.at(whole - 1) == states[whole - 1]) << cut;
        // Going on: the next line is good.
        ASSERT_TRUE(history.note(states[8], "2026-11-26T10:00"));
        if (whole > 0) EXPECT_TRUE(*historyIn(folder.path()).at(whole) == states[8]) << cut;
        // Where nothing was left, the next two begin it anew.
        if (whole == 0) {
            ASSERT_TRUE(history.note(states[7], "2026-11-26T10:01"));
            ASSERT_EQ(historyIn(folder.path()).size(), 2U) << cut;
            EXPECT_TRUE(*historyIn(folder.path()).at(1) == states[7]) << cut;
        }
    }
}

// The file as it is, a line of it damaged in some way: only the states from there to the next whole one are lost, and nothing is taken
// out of the file.
TEST(History, damageCostsTheDamagedStretchOnly) {
    test::TemporaryFolder folder;
    auto history = historyIn(folder.path());
    std::vector<project::Project> states;
    auto project = stage();
    for (int k = 0; k < 120; ++k) {
        project.brief.name = "Gadget " + std::to_string(k);
        states.push_back(project);
        ASSERT_TRUE(history.note(project, "2026-11-26T09:00"));
    }
    const auto file = folder.path() / "history.jsonl";
    std::vector<std::string> lines;
    std::istringstream whole(*files::readWhole(file));
    for (std::string line; std::getline(whole, line);) lines.push_back(line);
    ASSERT_EQ(lines.size(), 120U);
    const auto isWhole = [&](std::size_t k) { return lines[k].find("\"whole\"") != std::string::npos; };
    const std::string deep = "{\"date\":\"x\",\"changes\":" + std::string(100'000, '[') + std::string(100'000, ']') + "}";
    for (const std::string& bad :
         {std::string{"{}"}, std::string{"[1,2]"}, std::string{"{\"date\":3,\"changes\":[]}"}, std::string{"not json at all"}, deep,
          std::string{"{\"date\":\"x\",\"changes\":[[1,2,3]],\"patch\":[]}"},
          std::string{"{\"date\":\"x\",\"changes\":[],\"patch\":[{\"op\":\"copy\",\"from\":\"/brief\",\"path\":\"/x\"}]}"},
          std::string{"{\"date\":\"x\",\"changes\":[],\"patch\":[{\"op\":\"replace\",\"path\":\"/nowhere/at/all\",\"value\":1}]}"}}) {
        for (const std::size_t hurt : {std::size_t{0}, std::size_t{50}, std::size_t{70}}) {
            if (hurt == 0 && bad.find("nowhere") != std::string::npos)
                continue;  // a patch that nothing is there for: not damaged by itself
            std::string text;
            for (std::size_t k = 0; k < lines.size(); ++k) text += (k == hurt ? bad : lines[k]) + "\n";
            std::ofstream(file, std::ios::binary | std::ios::trunc) << text;
            auto read = historyIn(folder.path());
            ASSERT_EQ(read.size(), 119U) << bad.substr(0, 60);
            EXPECT_EQ(read.damaged(), 1U);
            // By the file alone: known from a whole line on, up to the damage.
            bool known = false;
            for (std::size_t k = 0, entry = 0; k < lines.size(); ++k) {
                if (k == hurt) {
                    known = false;
                    continue;
                }
                known = known || isWhole(k);
                ASSERT_EQ(read.entry(entry).known, known) << hurt << " at " << k;
                const std::size_t index = entry++;
                if (k % 7 != 0 && k + 3 < hurt) continue;
                if (k % 7 != 0 && k > hurt + 3) continue;
                const auto state = read.at(index);
                ASSERT_EQ(state.has_value(), known) << hurt << " at " << k;
                if (known) ASSERT_TRUE(*state == states[k]) << hurt << " at " << k;
            }
            EXPECT_EQ(*files::readWhole(file), text) << "reading takes nothing out";
            // It goes on from there.
            auto next = states.back();
            next.brief.name = "afterwards";
            ASSERT_TRUE(read.note(next, "2026-11-27T09:00"));
            const auto again = historyIn(folder.path());
            ASSERT_EQ(again.size(), 120U);
            EXPECT_TRUE(*again.at(119) == next);
            EXPECT_TRUE(files::readWhole(file)->starts_with(text));
        }
    }
}

// A version with one field more writes patches that the older whole state takes: the file is read, not what this version would write.
TEST(History, aFieldThatANewerVersionAddedLosesNoStates) {
    test::TemporaryFolder folder;
    const auto file = folder.path() / "history.jsonl";
    auto project = stage();
    {
        auto history = historyIn(folder.path());
        ASSERT_TRUE(history.note(project, "2026-11-26T09:00"));
        project.brief.name = "Second";
        ASSERT_TRUE(history.note(project, "2026-11-26T09:01"));
    }
    // As a version before would have left it: without some fields, and with one that nobody knows any more.
    auto text = *files::readWhole(file);
    auto first = nlohmann::ordered_json::parse(text.substr(0, text.find('\n')));
    first["whole"]["brief"].erase("hour_value");
    first["whole"]["board"].erase("ground_strip");
    first["whole"]["brief"]["mood"] = "cheerful";
    std::ofstream(file, std::ios::binary | std::ios::trunc) << first.dump() << '\n' << text.substr(text.find('\n') + 1);
    auto history = historyIn(folder.path());
    ASSERT_EQ(history.size(), 2U);
    std::vector<project::Project> states;
    for (int k = 0; k < 6; ++k) {
        project.brief.hour_value = of<Ratio>(10.0 + k);
        project.board.ground_strip = !project.board.ground_strip;
        states.push_back(project);
        ASSERT_TRUE(history.note(project, "2026-11-26T10:00"));
    }
    const auto reopened = historyIn(folder.path());
    ASSERT_EQ(reopened.size(), 8U) << "as many as in memory";
    EXPECT_EQ(reopened.damaged(), 0U);
    for (std::size_t k = 0; k < states.size(); ++k) EXPECT_TRUE(*reopened.at(2 + k) == states[k]) << k;
}

// A disk that is full while a line is written, at every length of what is left of it: every state that was noted before is still there.
TEST(History, aFullDiskTakesNothingAway) {
    test::TemporaryFolder folder;
    const auto file = folder.path() / "history.jsonl";
    auto project = stage();
    {
        auto history = historyIn(folder.path());
        for (int k = 0; k < 4; ++k) {
            project.brief.name = "Gadget " + std::to_string(k);
            ASSERT_TRUE(history.note(project, "2026-11-26T09:00"));
        }
    }
    std::ofstream(file, std::ios::binary | std::ios::app) << "damaged\n";
    const auto before = *files::readWhole(file);
    for (rlim_t room = 0; room < 400; room += 37) {
        const pid_t child = ::fork();
        if (child == 0) {
            ::signal(SIGXFSZ, SIG_IGN);
            const rlimit limits{before.size() + room, before.size() + room};
            ::setrlimit(RLIMIT_FSIZE, &limits);
            auto history = historyIn(folder.path());
            project.brief.name = "no room for this";
            ::_exit(history.note(project, "2026-11-26T09:01") ? 1 : 0);
        }
        int status = 0;
        ::waitpid(child, &status, 0);
        EXPECT_TRUE(WIFEXITED(status) && WEXITSTATUS(status) == 0) << "it is said, at " << room;
        EXPECT_TRUE(files::readWhole(file)->starts_with(before)) << room;
        auto after = historyIn(folder.path());
        ASSERT_GE(after.size(), 4U);
        for (std::size_t k = 0; k < 4; ++k) EXPECT_EQ(after.at(k)->brief.name, "Gadget " + std::to_string(k));
        std::filesystem::resize_file(file, before.size());
    }
}

TEST(History, saysWhatChangedWithBeforeAndAfter) {
    const auto before = stage();
    auto after =
        test::edited(before, {{"channels/rain/drive/part", "mosfet_ordinary_55v"}, {"routine/loops/spin_speed/proportional", "12"}});
    after = project::removeChannel(std::move(after), "lamps");
    const auto changes = changesBetween(before, after);
    const auto find = [&](const std::string& path) {
        for (const auto& change : changes)
            if (change.path == path) return change;
        return Change{};
    };
    EXPECT_EQ(find("channels/rain/drive/part").before, "mosfet_logic_30v");
    EXPECT_EQ(find("channels/rain/drive/part").after, "mosfet_ordinary_55v");
    EXPECT_EQ(find("routine/loops/spin_speed/proportional").after, "12.0");
    EXPECT_EQ(find("channels/lamps").before, "House lamps");
    EXPECT_EQ(find("channels/lamps").after, "");
    EXPECT_TRUE(changesBetween(before, before).empty());
}

TEST(History, goesAlongWhenAGadgetIsSavedAtLast) {
    test::TemporaryFolder folder;
    History history;  // nothing is saved yet: in memory
    auto project = project::newProject();
    ASSERT_TRUE(history.note(project, "2026-11-26T09:00"));
    project.brief.name = "Gate";
    ASSERT_TRUE(history.note(project, "2026-11-26T09:01", "named"));
    ASSERT_TRUE(history.keepIn(*files::Folder::make(folder.path() / "new")));
    const auto reopened = historyIn(folder.path() / "new");
    ASSERT_EQ(reopened.size(), 2U);
    EXPECT_EQ(reopened.entry(1).words, "named");
    EXPECT_EQ(reopened.at(1)->brief.name, "Gate");
}

}  // namespace
}  // namespace hinge::store
