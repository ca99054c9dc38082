// Includes run one way: every #include of the core, the app and the command line is read and held
// against the table of docs/architecture.md.
#include <gtest/gtest.h>
#include <filesystem>
#include <fstream>
#include <map>
#include <regex>
#include <set>
#include <string>

namespace {

namespace fs = std::filesystem;
using Names = std::set<std::string>;

const Names fields_below_project{"quantity", "working", "demand",  "timing", "actuator", "driver",  "power",
                                 "board",    "routine", "journal", "link",   "plant",    "control", "firmware"};

Names with(Names names, const Names& more) {
    names.insert(more.begin(), more.end());
    return names;
}

// What each room may include besides itself and the standard library.
const std::map<std::string, Names>& allowed() {
    static const Names project = with(fields_below_project, {"project"});
    static const Names match = with(project, {"kinds"});
    static const Names plan = with(match, {"match", "plan"});
    static const std::map<std::string, Names> table{
        {"quantity", {"boost/units", "boost/math", "csv.h", "udunits2.h", "unicode", "tl/expected.hpp", "fmt"}},
        {"working", {"quantity", "fmt"}},
        {"demand", {"quantity", "working", "fmt"}},
        {"timing", {"quantity", "working", "firmware/runtime", "fmt"}},
        {"actuator", {"quantity", "working", "demand", "fmt"}},
        {"driver", {"quantity", "working", "demand", "actuator", "fmt"}},
        {"power", {"quantity", "working", "demand", "actuator", "driver", "fmt"}},
        {"board", {"quantity", "working", "timing", "driver", "fmt", "nlohmann"}},
        {"routine", {"quantity", "working", "timing", "firmware/runtime", "fmt"}},
        {"journal", {"quantity", "working", "timing", "boost/math", "fmt"}},
        {"link", {"quantity", "working", "timing", "firmware/runtime", "fmt"}},
        {"plant",
         {"quantity", "demand", "actuator", "driver", "power", "Eigen", "unsupported/Eigen", "boost/numeric", "boost/math", "fmt"}},
        {"control", {"quantity", "working", "timing", "plant", "Eigen", "unsupported/Eigen", "boost/math", "fmt"}},
        {"firmware",
         {"quantity", "timing", "driver", "board", "routine", "control", "link", "fmt", "kainjow", "firmware/sketch_template.hpp"}},
        {"project", with(project, {"fmt"})},
        {"kinds", with(project, {"fmt"})},
        {"match", with(match, {"fmt"})},
        {"plan", with(plan, {"fmt"})},
        {"simulation", with(plan, {"fmt"})},
        {"proof", with(plan, {"capture", "fmt"})},
        {"drawing", with(plan, {"fmt"})},
        {"report", with(plan, {"proof", "drawing", "fmt", "kainjow"})},
        {"emulator", with(plan, {"files", "fmt", "simavr", "seccomp.h"})},
        {"capture", {"quantity", "timing", "fmt"}},
        {"store", with(project, {"files", "fmt", "nlohmann", "valijson", "zip.h"})},
        {"catalogue", with(match, {"files", "fmt"})},
        {"files", {"quantity", "fmt"}},
    };
    return table;
}

const std::regex include_line(R"(^\s*#\s*include\s*[<"]([^>"]+)[>"])");

std::vector<std::string> includesOf(const fs::path& file) {
    std::vector<std::string> list;
    std::ifstream text(file);
    std::string line;
    std::smatch match;
    while (std::getline(text, line))
        if (std::regex_search(line, match, include_line)) list.push_back(match[1]);
    return list;
}

bool isSource(const fs::path& file) {
    return file.extension() == ".hpp" || file.extension() == ".cpp";
}

// Standard and POSIX headers: no slash and no dot, or a C header of the system.
bool isSystem(const std::string& name) {
    static const Names posix{"fcntl.h",  "unistd.h", "sys/file.h", "sys/stat.h", "sys/wait.h",  "pty.h",          "termios.h",   "poll.h",
                             "dirent.h", "elf.h",    "locale.h",   "spawn.h",    "sys/prctl.h", "sys/resource.h", "sys/socket.h"};
    return name.find('/') == std::string::npos && name.find('.') == std::string::npos ? true : posix.count(name) > 0;
}

TEST(Includes, runOneWayThroughTheCore) {
    int files = 0;
    for (const auto& entry : fs::recursive_directory_iterator(HINGE_SOURCE_DIR "/core")) {
        if (!isSource(entry.path())) continue;
        ++files;
        // The first folder below core: what lies in a room's own folders is of that room.
        const std::string room = entry.path().lexically_relative(HINGE_SOURCE_DIR "/core").begin()->string();
        const auto rule = allowed().find(room);
        ASSERT_NE(rule, allowed().end()) << room << " is not in the table of docs/architecture.md";
        for (const auto& name : includesOf(entry.path())) {
            if (isSystem(name)) continue;
            const std::string first = name.substr(0, name.find('/'));
            bool fits = first == room;
            for (const auto& allowed_name : rule->second) fits = fits || first == allowed_name || name.starts_with(allowed_name);
            EXPECT_TRUE(fits) << entry.path().string() << " includes " << name;
        }
    }
    EXPECT_GT(files, 60) << "the test found the core";
}

// The runtime goes to every chip as it stands: nothing but whole numbers, and itself.
TEST(Includes, theRuntimeNeedsNothingButWholeNumbers) {
    int files = 0;
    for (const auto& entry : fs::directory_iterator(HINGE_SOURCE_DIR "/core/firmware/runtime")) {
        if (entry.path().filename() == ".clang-format") continue;
        ++files;
        EXPECT_EQ(entry.path().extension(), ".h") << entry.path();
        for (const auto& name : includesOf(entry.path()))
            EXPECT_TRUE(name == "stdint.h" || name.starts_with("spark_")) << entry.path() << " includes " << name;
    }
    EXPECT_GE(files, 4);
}

// What follows from the kind of an actuator or the class of a driver stands in its file of core/kinds: nobody else asks which it is.
TEST(Kinds, nobodyOutsideTheirRoomAsksWhichOne) {
    const std::regex asks(
        R"(DriverClass::|(holds_alternative|get_if|get|is_same_v)<[^<>]*actuator::[A-Z]|operator\(\)\(const actuator::[A-Z])");
    int files = 0;
    for (const char* folder : {"core", "app", "cli"})
        for (const auto& entry : fs::recursive_directory_iterator(std::string{HINGE_SOURCE_DIR "/"} + folder)) {
            if (!isSource(entry.path())) continue;
            const auto below = entry.path().lexically_relative(HINGE_SOURCE_DIR).generic_string();
            if (below.starts_with("core/kinds/") || below.starts_with("core/actuator/") || below.starts_with("core/driver/driver_part"))
                continue;
            ++files;
            std::ifstream text(entry.path());
            std::string line;
            for (int number = 1; std::getline(text, line); ++number)
                EXPECT_FALSE(std::regex_search(line, asks)) << below << ':' << number << ": " << line;
        }
    EXPECT_GT(files, 200);
}

// What follows from the form of a board stands in its file of parts/boards: nobody asks which it is, but for the form that a project begins
// with.
TEST(Boards, nobodyAsksWhichOne) {
    const std::regex asks(R"(BoardForm::[A-Z])"), begins(R"(^\s*board::BoardForm form = board::BoardForm::\w+;)");
    int files = 0;
    for (const char* folder : {"core", "app", "cli", "guest"})
        for (const auto& entry : fs::recursive_directory_iterator(std::string{HINGE_SOURCE_DIR "/"} + folder)) {
            if (!isSource(entry.path()) || entry.path().filename() == "family.hpp") continue;
            ++files;
            std::ifstream text(entry.path());
            std::string line;
            for (int number = 1; std::getline(text, line); ++number)
                EXPECT_FALSE(std::regex_search(line, asks) && !std::regex_search(line, begins))
                    << entry.path() << ':' << number << ": " << line;
        }
    EXPECT_GT(files, 200);
}

TEST(Includes, keepQtOutOfTheCoreAndTheCommandLine) {
    for (const char* folder : {"core", "cli"})
        for (const auto& entry : fs::recursive_directory_iterator(std::string{HINGE_SOURCE_DIR "/"} + folder)) {
            if (!isSource(entry.path())) continue;
            for (const auto& name : includesOf(entry.path()))
                EXPECT_FALSE(name[0] == 'Q' && std::isupper(static_cast<unsigned char>(name[1]))) << entry.path() << ' ' << name;
        }
}

TEST(Includes, keepAppAndCommandLineApart) {
    for (const auto& [folder, other] : {std::pair{"app", "cli/"}, std::pair{"cli", "shell/"}})
        for (const auto& entry : fs::recursive_directory_iterator(std::string{HINGE_SOURCE_DIR "/"} + folder)) {
            if (!isSource(entry.path())) continue;
            for (const auto& name : includesOf(entry.path())) EXPECT_FALSE(name.starts_with(other)) << entry.path() << ' ' << name;
        }
}

// A presenter has no widget in it: it is tested without a display.
TEST(Includes, keepWidgetsOutOfThePresenters) {
    int presenters = 0;
    for (const auto& entry : fs::recursive_directory_iterator(HINGE_SOURCE_DIR "/app/stages")) {
        const std::string name = entry.path().filename();
        const bool presenter =
            name.find("_view.") != std::string::npos || name.starts_with("opening.") || name.starts_with("routine_sentences.");
        if (!presenter) continue;
        ++presenters;
        for (const auto& include : includesOf(entry.path()))
            for (const char* widget : {"QWidget", "QLabel", "QPushButton", "QLineEdit", "QPainter", "QApplication"})
                EXPECT_NE(include, widget) << name;
    }
    EXPECT_GE(presenters, 8);
}

TEST(Names, haveNoDrawersForOddsAndEnds) {
    for (const char* folder : {"core", "app", "cli"})
        for (const auto& entry : fs::recursive_directory_iterator(std::string{HINGE_SOURCE_DIR "/"} + folder)) {
            const std::string name = entry.path().stem();
            for (const char* drawer : {"util", "utils", "helper", "helpers", "common", "misc"}) EXPECT_NE(name, drawer) << entry.path();
        }
}

}  // namespace
