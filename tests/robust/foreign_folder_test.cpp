// A project's folder as a stranger left it: links out of it, pipes, devices, sockets and folders in the place of every file. Nothing
// outside is read, emptied or written; nothing hangs; each is answered in a sentence.
#include <fcntl.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <sys/sysmacros.h>
#include <sys/un.h>
#include <unistd.h>
#include <cstring>
#include <fstream>
#include <functional>
#include <thread>
#include "store/bundle.hpp"
#include "store/keeper.hpp"
#include "store/trials.hpp"
#include "support/demo.hpp"

namespace hinge::store {
namespace {

namespace fs = std::filesystem;

Document named(const std::string& name) {
    Document document;
    document.project = test::demoProject();
    document.project.brief.name = name;
    return document;
}

// A folder with a project, and one beside it whose file must stay as it is.
class ForeignFolder : public testing::Test {
protected:
    void SetUp() override {
        fs::create_directories(inside());
        fs::create_directories(outside());
        ASSERT_TRUE(save(named("theirs"), inside()));
        std::ofstream(victim()) << precious;
    }
    void TearDown() override { EXPECT_EQ(*files::readWhole(victim()), precious) << "what lies outside is as it was"; }
    // The folder as it was given; @return whether it was saved
    [[nodiscard]] bool beginAnew() {
        fs::remove_all(inside());
        fs::remove_all(folder_.path() / "elsewhere");
        fs::create_directories(inside());
        return save(named("theirs"), inside()).has_value();
    }
    [[nodiscard]] fs::path inside() const { return folder_.path() / "inside"; }
    [[nodiscard]] fs::path outside() const { return folder_.path() / "outside"; }
    [[nodiscard]] fs::path victim() const { return outside() / "precious"; }
    static constexpr const char* precious = "years of work\n";

    // Everything that a window does with a folder, one after the other.
    void useItAll() {
        auto opened = Keeper::open(inside(), "2026-11-29T10:00:00");
        if (opened) {
            auto& keeper = opened->keeper;
            auto document = opened->document;
            (void)keeper.note(document.project, "2026-11-29T10:00:00");
            for (int k = 0; k < 3; ++k) {
                document.project.brief.name = "mine " + std::to_string(k);
                (void)keeper.note(document.project, "2026-11-29T10:00:01");
                (void)keeper.autosave(document);
                (void)keeper.save(document, "2026-11-29T10:00:02", Keeper::Over::Overwrite);
                (void)keeper.look();
            }
            keeper.discardAutosave();
        }
        (void)recoverable(inside());
        for (const char* name : {"x.jpg", "../../outside/precious", "/etc/passwd"}) {
            const auto photo = readPhoto(inside(), name);
            if (photo) EXPECT_EQ(photo->find("years"), std::string::npos) << "nothing from outside comes into the packet";
        }
        (void)readTrials(inside());
        journal::Trial trial;
        trial.id = nextTrial(inside());
        if (auto writer = TrialWriter::begin(inside(), trial)) (void)writer->add({});
        (void)commentTrial(inside(), "trial-1", "seen");
        (void)removeTrial(inside(), "trial-1");
        (void)writeFolder({{"gadget.ino", "void setup() {}"}}, inside());
        if (const auto folder = files::Folder::open(inside())) (void)folder->append("runs.csv", "row\n");
        (void)takeAlong(inside(), folder_.path() / "elsewhere");
        if (const auto taken = files::Folder::open(folder_.path() / "elsewhere"))
            for (const char* part : {"photos", "trials"})
                if (const auto there = taken->inside(part))
                    for (const auto& name : there->plainFiles())
                        EXPECT_EQ(there->read(name, 1 << 20)->find("years"), std::string::npos) << name << " came from outside";
    }
    // Answers within a second; a pipe that is opened and waited for would not.
    void quickly(const std::function<void()>& what) {
        const auto begun = std::chrono::steady_clock::now();
        what();
        EXPECT_LT(std::chrono::steady_clock::now() - begun, std::chrono::seconds(20));
    }
    test::TemporaryFolder folder_;
};

const std::vector<std::string> places{"project.json",
                                      "project.autosave.json",
                                      "history.jsonl",
                                      "project.lock",
                                      "photos",
                                      "photos/x.jpg",
                                      "trials",
                                      "trials/trial-1.csv",
                                      "trials/trial-2.csv",
                                      "runs.csv",
                                      "project.json.part",
                                      "gadget.ino",
                                      "gadget.ino.part",
                                      "history.damaged.jsonl",
                                      "project.outside-1.json"};

TEST_F(ForeignFolder, aLinkInAnyPlaceLeadsNowhere) {
    for (const auto& place : places) {
        SCOPED_TRACE(place);
        for (const auto& target : {victim(), outside(), fs::path{"../outside/precious"}, fs::path{"nowhere"}}) {
            const auto at = inside() / place;
            fs::remove_all(at);
            fs::create_directories(at.parent_path());
            fs::create_symlink(target, at);
            quickly([&] { useItAll(); });
            ASSERT_EQ(*files::readWhole(victim()), precious) << place << " -> " << target;
            for (const auto& entry : fs::directory_iterator(outside()))
                EXPECT_EQ(entry.path().filename(), "precious") << "nothing new outside";
            ASSERT_TRUE(beginAnew());
        }
    }
}

TEST_F(ForeignFolder, linksThatLeadInACircleEnd) {
    fs::remove(inside() / "project.json");
    fs::create_symlink("project.json", inside() / "project.json");
    fs::create_symlink("photos", inside() / "photos");
    quickly([&] { useItAll(); });
    const auto opened = load(inside());
    ASSERT_FALSE(opened);
    EXPECT_NE(sentence(opened.error()).find("a link"), std::string::npos) << sentence(opened.error());
}

TEST_F(ForeignFolder, pipesSocketsDevicesAndFoldersAreRefusedAtOnce) {
    for (const auto& place : places) {
        SCOPED_TRACE(place);
        for (int kind = 0; kind < 4; ++kind) {
            const auto at = inside() / place;
            fs::remove_all(at);
            fs::create_directories(at.parent_path());
            if (kind == 0) {
                ASSERT_EQ(::mkfifo(at.c_str(), 0600), 0);
            } else if (kind == 1) {
                const int socket = ::socket(AF_UNIX, SOCK_STREAM, 0);
                sockaddr_un address{};
                address.sun_family = AF_UNIX;
                ASSERT_LT(at.string().size(), sizeof address.sun_path);
                std::strcpy(address.sun_path, at.c_str());
                ASSERT_EQ(::bind(socket, reinterpret_cast<const sockaddr*>(&address), sizeof address), 0);
                ::close(socket);
            } else if (kind == 2) {
                if (::mknod(at.c_str(), S_IFCHR | 0600, makedev(1, 5)) != 0) continue;  // /dev/zero; only root may
            } else {
                fs::create_directories(at);
                std::ofstream(at / "in it") << "x";
            }
            quickly([&] { useItAll(); });
            if (place == "project.json") {
                const auto opened = load(inside());
                ASSERT_FALSE(opened);
                EXPECT_EQ(opened.error().code, ErrorCode::NotPlain) << sentence(opened.error());
            }
            ASSERT_TRUE(beginAnew());
        }
    }
}

TEST_F(ForeignFolder, aSparseFileOfTwoGigabytesIsNotRead) {
    for (const char* place :
         {"project.json", "history.jsonl", "project.autosave.json", "photos/x.jpg", "trials/trial-1.csv", "project.lock"}) {
        const auto at = inside() / place;
        fs::create_directories(at.parent_path());
        std::ofstream(at) << "x";
        fs::resize_file(at, std::uintmax_t{2} << 30);
        quickly([&] { useItAll(); });
        if (std::string{place} == "project.json") {
            const auto opened = load(inside());
            ASSERT_FALSE(opened);
            EXPECT_NE(sentence(opened.error()).find("at most 32 MB"), std::string::npos) << sentence(opened.error());
        }
        ASSERT_TRUE(beginAnew());
    }
}

TEST_F(ForeignFolder, emptyFilesAndNoPermissionAreAnswered) {
    for (const auto& place : places) {
        const auto at = inside() / place;
        if (place == "photos" || place == "trials") continue;
        fs::create_directories(at.parent_path());
        std::ofstream(at, std::ios::trunc).flush();
        quickly([&] { useItAll(); });
        ASSERT_TRUE(beginAnew());
    }
    std::ofstream(inside() / "project.json", std::ios::trunc).flush();
    const auto opened = load(inside());
    ASSERT_FALSE(opened);
    EXPECT_NE(sentence(opened.error()).find("empty"), std::string::npos);
}

// A second name of a file outside: what is written inside stays inside.
TEST_F(ForeignFolder, aHardLinkGetsACopyOfItsOwn) {
    fs::create_hard_link(victim(), inside() / "runs.csv");
    fs::create_hard_link(victim(), inside() / "history.jsonl");
    fs::create_hard_link(victim(), inside() / "project.lock");
    useItAll();
    EXPECT_NE(files::readWhole(inside() / "runs.csv")->find("row"), std::string::npos);
}

TEST_F(ForeignFolder, aFileThatIsWrittenAllTheTimeIsSaid) {
    std::atomic<bool> on{true};
    std::thread writer([&] {
        std::ofstream file(inside() / "project.json", std::ios::app);
        while (on) file << ' ' << std::flush;
    });
    for (int k = 0; k < 50; ++k) {
        const auto read = load(inside());
        if (!read) EXPECT_NE(sentence(read.error()).find("being written"), std::string::npos) << sentence(read.error());
    }
    on = false;
    writer.join();
    EXPECT_TRUE(load(inside()));
}

TEST_F(ForeignFolder, permissionsOfAFileStay) {
    const auto file = inside() / "project.json";
    fs::permissions(file, fs::perms::owner_read | fs::perms::owner_write);
    ASSERT_TRUE(save(named("mine"), inside()));
    EXPECT_EQ(fs::status(file).permissions(), fs::perms::owner_read | fs::perms::owner_write);
}

TEST_F(ForeignFolder, aLinkToTheFolderItselfIsTheUsersOwnWay) {
    fs::create_directory_symlink(inside(), folder_.path() / "way");
    EXPECT_EQ(load(folder_.path() / "way")->project.brief.name, "theirs");
    EXPECT_TRUE(save(named("mine"), folder_.path() / "way"));
    EXPECT_EQ(load(inside())->project.brief.name, "mine");
}

}  // namespace
}  // namespace hinge::store
