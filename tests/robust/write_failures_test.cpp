// Saving into trouble: a read-only folder, a full disk, a folder where a file should be, a process
// killed in the middle. The old file stays whole.
#include <sys/mount.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>
#include <csignal>
#include <fstream>
#include "store/document.hpp"
#include "store/keeper.hpp"
#include "support/demo.hpp"

namespace hinge::store {
namespace {

Document demo(const std::string& name) {
    Document document;
    document.project = test::demoProject();
    document.project.brief.name = name;
    return document;
}

TEST(Saving, intoAFolderThatIsAFileSaysSo) {
    test::TemporaryFolder folder;
    const auto blocked = folder.path() / "blocked";
    ASSERT_TRUE(files::writeWhole(blocked, "x"));
    const auto saved = save(demo("new"), blocked / "project");
    ASSERT_FALSE(saved);
    EXPECT_EQ(saved.error().code, ErrorCode::NotWritable);
    EXPECT_EQ(*files::readWhole(blocked), "x");
}

TEST(Saving, intoAReadOnlyPlaceKeepsTheOldFile) {
    // /proc takes no files, whoever asks: the same answer for root as for anyone.
    const auto saved = save(demo("new"), "/proc/hinge");
    ASSERT_FALSE(saved);
    EXPECT_EQ(saved.error().code, ErrorCode::NotWritable);
}

// A folder that is mounted to be read only, as from a card or a share: it opens, is looked at, and says so.
TEST(Saving, aFolderOnAReadOnlyDiskOpensAndKeepsWhatItHolds) {
    test::TemporaryFolder folder;
    ASSERT_TRUE(save(demo("old"), folder.path()));
    const std::string at = folder.path().string();
    const bool mounted = ::mount(at.c_str(), at.c_str(), nullptr, MS_BIND, nullptr) == 0 &&
                         ::mount(nullptr, at.c_str(), nullptr, MS_BIND | MS_REMOUNT | MS_RDONLY, nullptr) == 0;
    if (!mounted) {
        ::umount2(at.c_str(), MNT_DETACH);
        GTEST_SKIP() << "no right to mount here";
    }
    auto opened = Keeper::open(folder.path(), "2026-11-29T08:00:00");
    EXPECT_TRUE(opened) << (opened ? "" : sentence(opened.error()));
    if (opened) {
        EXPECT_FALSE(opened->keeper.writes());
        ASSERT_TRUE(opened->keeper.reason());
        EXPECT_EQ(opened->keeper.reason()->code, ErrorCode::NotWritable) << sentence(*opened->keeper.reason());
        EXPECT_EQ(opened->document.project.brief.name, "old");
        const auto saved = opened->keeper.save(demo("new"), "2026-11-29T08:00:01");
        EXPECT_FALSE(saved);
        EXPECT_TRUE(opened->keeper.note(demo("new").project, "2026-11-29T08:00:02")) << "in memory only";
    }
    const auto direct = save(demo("new"), folder.path());
    EXPECT_FALSE(direct);
    if (!direct) EXPECT_EQ(direct.error().code, ErrorCode::NotWritable) << sentence(direct.error());
    ::umount2(at.c_str(), MNT_DETACH);
    const auto after = load(folder.path());
    ASSERT_TRUE(after);
    EXPECT_EQ(after->project.brief.name, "old");
}

// A full disk at every point of the write: the limit on the file's size stops it there.
TEST(Saving, whenTheDiskIsFullAtAnyByteTheOldFileIsWhole) {
    test::TemporaryFolder folder;
    ASSERT_TRUE(save(demo("old"), folder.path()));
    const auto before = files::readWhole(folder.path() / "project.json");
    const auto size = static_cast<rlim_t>(toText(demo("new")).size());
    for (rlim_t limit = 0; limit < size; limit += 97) {
        const pid_t child = ::fork();
        if (child == 0) {
            ::signal(SIGXFSZ, SIG_IGN);
            const rlimit limits{limit, limit};
            ::setrlimit(RLIMIT_FSIZE, &limits);
            const auto saved = save(demo("new"), folder.path());
            ::_exit(!saved && saved.error().code == ErrorCode::NotWritable ? 0 : 1);
        }
        int status = 0;
        ::waitpid(child, &status, 0);
        ASSERT_TRUE(WIFEXITED(status) && WEXITSTATUS(status) == 0) << "at " << limit;
        ASSERT_EQ(*files::readWhole(folder.path() / "project.json"), *before) << "at " << limit;
        EXPECT_FALSE(std::filesystem::exists(folder.path() / "project.json.part")) << "nothing is left lying about";
    }
}

// Killed while saving over and over: whatever is there afterwards is one of the two, whole.
TEST(Saving, killedAtAnyMomentLeavesOneOfTheTwo) {
    test::TemporaryFolder folder;
    ASSERT_TRUE(save(demo("old"), folder.path()));
    for (int round = 0; round < 12; ++round) {
        const pid_t child = ::fork();
        if (child == 0) {
            for (;;) {
                static_cast<void>(save(demo("new"), folder.path()));
                static_cast<void>(save(demo("old"), folder.path()));
            }
        }
        ::usleep(static_cast<useconds_t>(1500 + round * 700));
        ::kill(child, SIGKILL);
        int status = 0;
        ::waitpid(child, &status, 0);
        const auto document = load(folder.path());
        ASSERT_TRUE(document) << sentence(document.error());
        EXPECT_TRUE(document->project.brief.name == "old" || document->project.brief.name == "new");
    }
}

}  // namespace
}  // namespace hinge::store
