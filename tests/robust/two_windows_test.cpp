// Two windows, or an editor beside one, on one project: nobody writes over the other in silence, and no state is lost.
#include <fcntl.h>
#include <sys/prctl.h>
#include <sys/wait.h>
#include <unistd.h>
#include <csignal>
#include <fstream>
#include <random>
#include <set>
#include "store/keeper.hpp"
#include "support/demo.hpp"

namespace hinge::store {
namespace {

constexpr const char* now = "2026-11-29T10:00:00";

Document named(const std::string& name) {
    Document document;
    document.project = project::newProject();
    document.project.brief.name = name;
    return document;
}
Keeper::Opened openedIn(const std::filesystem::path& path) {
    auto opened = Keeper::open(path, now);
    EXPECT_TRUE(opened) << sentence(opened.error());
    return std::move(*opened);
}

class TwoWindows : public testing::Test {
protected:
    void SetUp() override { ASSERT_TRUE(save(named("first"), folder_.path())); }
    [[nodiscard]] std::filesystem::path at() const { return folder_.path(); }
    test::TemporaryFolder folder_;
};

TEST_F(TwoWindows, theSecondOneLooksOnlyUntilItTakesOver) {
    auto first = openedIn(at());
    ASSERT_TRUE(first.keeper.writes());
    auto second = openedIn(at());
    ASSERT_FALSE(second.keeper.writes());
    ASSERT_TRUE(second.keeper.reason());
    EXPECT_NE(second.keeper.reason()->value.find(std::to_string(::getpid())), std::string::npos) << "who has it is said";
    const auto refused = second.keeper.save(named("second"), now);
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().code, ErrorCode::Conflict);
    EXPECT_EQ(load(at())->project.brief.name, "first");
    // What it does meanwhile is in its memory, not in the file.
    ASSERT_TRUE(second.keeper.note(named("a").project, now));
    ASSERT_TRUE(second.keeper.note(named("b").project, now));
    EXPECT_FALSE(std::filesystem::exists(at() / "history.jsonl"));
    // The first one goes on, and then it is taken over.
    ASSERT_TRUE(first.keeper.save(named("first again"), now));
    EXPECT_EQ(second.keeper.look(), Keeper::News::Changed);
    EXPECT_EQ(second.keeper.look(), Keeper::News::Nothing) << "told once";
    const auto there = second.keeper.takeOver(now);
    ASSERT_TRUE(there) << sentence(there.error());
    EXPECT_EQ(there->project.brief.name, "first again");
    EXPECT_EQ(first.keeper.look(), Keeper::News::TakenOver);
    EXPECT_EQ(first.keeper.look(), Keeper::News::Nothing) << "told once";
    EXPECT_FALSE(first.keeper.save(named("too late"), now));
    EXPECT_TRUE(second.keeper.save(named("second"), now));
    EXPECT_EQ(load(at())->project.brief.name, "second");
}

TEST_F(TwoWindows, oneThatIsTakenOverBetweenTwoLooksWritesNothingEither) {
    auto first = openedIn(at());
    auto second = openedIn(at());
    ASSERT_TRUE(second.keeper.takeOver(now));
    EXPECT_FALSE(first.keeper.note(named("too late").project, now));
    EXPECT_FALSE(first.keeper.save(named("too late"), now));
    EXPECT_FALSE(first.keeper.writes());
    EXPECT_EQ(first.keeper.history().size(), 1U) << "and remembers it";
    EXPECT_EQ(load(at())->project.brief.name, "first");
}

TEST_F(TwoWindows, aClosedOneGivesItBack) {
    {
        auto first = openedIn(at());
        EXPECT_TRUE(std::filesystem::exists(at() / "project.lock"));
    }
    EXPECT_FALSE(std::filesystem::exists(at() / "project.lock")) << "nothing is left behind";
    EXPECT_TRUE(openedIn(at()).keeper.writes());
}

TEST_F(TwoWindows, theSameFolderByAnotherNameIsNoOther) {
    auto opened = openedIn(at());
    EXPECT_TRUE(opened.keeper.saveIn(at() / "", named("by another name"), now));
    EXPECT_EQ(load(at())->project.brief.name, "by another name");
    // Elsewhere, it moves: what was here is given back.
    ASSERT_TRUE(opened.keeper.saveIn(at() / "moved", named("moved"), now));
    EXPECT_TRUE(opened.keeper.writes());
    EXPECT_TRUE(openedIn(at()).keeper.writes());
    EXPECT_EQ(load(at() / "moved")->project.brief.name, "moved");
}

TEST_F(TwoWindows, aKilledOneDoesNotHoldIt) {
    const pid_t child = ::fork();
    if (child == 0) {
        auto opened = Keeper::open(at(), now);
        if (!opened || !opened->keeper.writes()) ::_exit(1);
        ::raise(SIGKILL);
    }
    int status = 0;
    ::waitpid(child, &status, 0);
    ASSERT_TRUE(WIFSIGNALED(status));
    ASSERT_TRUE(std::filesystem::exists(at() / "project.lock"));
    EXPECT_TRUE(openedIn(at()).keeper.writes()) << "its holder is gone";
}

TEST_F(TwoWindows, aLockOfAnotherComputerIsBelieved) {
    std::ofstream(at() / "project.lock") << R"({"mark":"x","host":"elsewhere","process":1,"started":"5","since":"2026-11-28T09:00"})";
    auto opened = openedIn(at());
    EXPECT_FALSE(opened.keeper.writes());
    EXPECT_NE(opened.keeper.reason()->value.find("elsewhere"), std::string::npos);
    EXPECT_TRUE(opened.keeper.takeOver(now));
}

TEST_F(TwoWindows, aDamagedOrDeletedLockIsNobodys) {
    for (const char* text : {"", "{", "[]", "{\"mark\":7}", "\xff\xfe"}) {
        std::ofstream(at() / "project.lock", std::ios::trunc) << text;
        auto opened = openedIn(at());
        EXPECT_TRUE(opened.keeper.writes()) << text;
        std::filesystem::remove(at() / "project.lock");
        EXPECT_TRUE(opened.keeper.save(named("still mine"), now)) << "somebody tidied up";
        EXPECT_TRUE(std::filesystem::exists(at() / "project.lock"));
    }
}

TEST_F(TwoWindows, anEditorBesideItIsNoticedAndNothingIsLost) {
    auto opened = openedIn(at());
    auto& keeper = opened.keeper;
    ASSERT_TRUE(keeper.note(opened.document.project, now));
    ASSERT_TRUE(keeper.note(named("mine").project, now));
    ASSERT_TRUE(files::writeWhole(at() / "project.json", toText(named("theirs"))));
    EXPECT_EQ(keeper.look(), Keeper::News::Changed);
    const auto refused = keeper.save(named("mine"), now);
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().value, "changed outside");
    EXPECT_EQ(keeper.outside()->project.brief.name, "theirs");
    EXPECT_EQ(load(at())->project.brief.name, "theirs");
    // Kept against it: theirs is in the history.
    ASSERT_TRUE(keeper.save(named("mine"), now, Keeper::Over::Overwrite));
    EXPECT_EQ(load(at())->project.brief.name, "mine");
    const auto& history = keeper.history();
    ASSERT_EQ(history.size(), 3U);
    EXPECT_EQ(history.at(2)->brief.name, "theirs");
    // Once more, and taken over this time.
    ASSERT_TRUE(files::writeWhole(at() / "project.json", toText(named("theirs again"))));
    EXPECT_EQ(keeper.look(), Keeper::News::Changed);
    keeper.acceptOutside();
    EXPECT_TRUE(keeper.save(named("on top of theirs"), now)) << "it was seen";
    // The same words written anew are no news.
    const auto text = *files::readWhole(at() / "project.json");
    ASSERT_TRUE(files::writeWhole(at() / "project.json", text));
    EXPECT_EQ(keeper.look(), Keeper::News::Nothing);
    std::filesystem::remove(at() / "project.json");
    EXPECT_EQ(keeper.look(), Keeper::News::Gone);
    EXPECT_TRUE(keeper.save(named("there again"), now));
}

TEST_F(TwoWindows, whatIsNoProjectIsKeptBeside) {
    auto opened = openedIn(at());
    ASSERT_TRUE(files::writeWhole(at() / "project.json", "{ half a th"));
    ASSERT_TRUE(opened.keeper.save(named("mine"), now, Keeper::Over::Overwrite));
    EXPECT_EQ(*files::readWhole(at() / "project.outside-1.json"), "{ half a th");
}

TEST_F(TwoWindows, aFolderThatCannotBeWrittenIsLookedAt) {
    auto opened = Keeper::open(at(), now, false);
    ASSERT_TRUE(opened);
    EXPECT_FALSE(opened->keeper.writes());
    EXPECT_FALSE(std::filesystem::exists(at() / "project.lock")) << "and nothing is left there";
}

// One window of the test below: edits, notes, saves and autosaves until it is killed; takes over now and then. Every state that was
// noted, with the answer 'kept', is told through the pipe before the next one begins.
[[noreturn]] void window(const std::filesystem::path& at, int seed, int out) {
    ::prctl(PR_SET_PDEATHSIG, SIGKILL);
    std::mt19937 dice(static_cast<unsigned>(seed));
    auto opened = Keeper::open(at, now);
    if (!opened) ::_exit(3);
    auto& keeper = opened->keeper;
    auto document = opened->document;
    for (int k = 0;; ++k) {
        if (!keeper.writes()) {
            if (dice() % 3 == 0)
                if (auto there = keeper.takeOver(now)) document = std::move(*there);
            if (!keeper.writes()) {
                ::usleep(200);
                continue;
            }
        }
        document.project.brief.name = std::to_string(seed) + "/" + std::to_string(k);
        document.project.brief.purpose = std::string(1 + dice() % 3000, static_cast<char>('a' + seed % 26));
        const bool noted = keeper.note(document.project, now).has_value();
        // The very first state of a history is written with the first change: until then it is only looked at.
        if (noted && keeper.history().size() > 1) {
            const std::string told = document.project.brief.name + "\n";
            if (::write(out, told.data(), told.size()) < 0) ::_exit(4);
        }
        if (dice() % 2 == 0) (void)keeper.save(document, now, Keeper::Over::Overwrite);
        else (void)keeper.autosave(document);
        (void)keeper.look();
    }
}

// Every state that was kept is there, and each that is there can be gone back to.
void checkHistoryIn(const std::filesystem::path& at, const std::set<std::string>& kept) {
    const auto history = History::open(*files::Folder::open(at));
    ASSERT_TRUE(history);
    std::set<std::string> found;
    for (std::size_t k = 0; k < history->size(); ++k) {
        if (!history->entry(k).known) continue;
        const auto state = history->at(k);
        ASSERT_TRUE(state) << sentence(state.error());
        found.insert(state->brief.name);
    }
    for (const auto& name : kept) ASSERT_TRUE(found.count(name) != 0) << name << " was kept, and is not in the history";
}

// A thousand kills: after each, the file is one whole project that somebody saved, and every state that was kept is in the history.
TEST_F(TwoWindows, aThousandKillsLoseNoStateAndMixNone) {
    std::set<std::string> kept;
    std::mt19937 dice(7);
    int pipe[2];
    ASSERT_EQ(::pipe2(pipe, O_NONBLOCK), 0);
    const auto start = [&](int seed) {
        const pid_t child = ::fork();
        if (child == 0) window(at(), seed, pipe[1]);
        return child;
    };
    std::string heard;
    const auto listen = [&] {
        char buffer[65536];
        for (ssize_t n = 0; (n = ::read(pipe[0], buffer, sizeof buffer)) > 0;) heard.append(buffer, static_cast<std::size_t>(n));
        for (std::size_t end = 0; (end = heard.find('\n')) != std::string::npos;) {
            kept.insert(heard.substr(0, end));
            heard.erase(0, end + 1);
        }
    };
    pid_t windows[2] = {start(0), start(1)};
    std::size_t told = 0;
    for (int kill = 0; kill < 1000; ++kill) {
        ::usleep(static_cast<useconds_t>(300 + dice() % 14000));
        const int which = static_cast<int>(dice() % 2);
        ::kill(windows[which], SIGKILL);
        int status = 0;
        ::waitpid(windows[which], &status, 0);
        ASSERT_TRUE(WIFSIGNALED(status)) << "a window ended by itself: " << (WIFEXITED(status) ? WEXITSTATUS(status) : -1);
        const auto document = load(at());
        ASSERT_TRUE(document) << sentence(document.error());
        const auto& brief = document->project.brief;
        if (brief.name != "first" && !brief.purpose.empty()) {
            const char mine = static_cast<char>('a' + std::stoi(brief.name) % 26);
            ASSERT_EQ(brief.purpose.find_first_not_of(mine), std::string::npos) << "a mixture of two states";
        }
        listen();
        // The history of a hundred lives is looked at whole, both windows gone, and begun anew: what is tested is not how long it may get.
        if (kill % 100 == 99) {
            ::kill(windows[1 - which], SIGKILL);
            ::waitpid(windows[1 - which], &status, 0);
            listen();
            told += kept.size();
            checkHistoryIn(at(), kept);
            if (HasFatalFailure()) return;
            kept.clear();
            std::filesystem::remove(at() / "history.jsonl");
            windows[1 - which] = start(5000 + kill);
        }
        windows[which] = start(2 + kill);
    }
    for (const auto child : windows) {
        ::kill(child, SIGKILL);
        ::waitpid(child, nullptr, 0);
    }
    EXPECT_GT(told, 150U) << "the test has tested something";
    auto last = openedIn(at());
    EXPECT_TRUE(last.keeper.writes());
    for (const auto& entry : std::filesystem::directory_iterator(at()))
        EXPECT_FALSE(entry.path().string().ends_with(".part")) << "leftovers of the killed are cleared: " << entry.path();
}

}  // namespace
}  // namespace hinge::store
