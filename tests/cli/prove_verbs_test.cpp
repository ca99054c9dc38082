#include "cli/said.hpp"

namespace hinge {
namespace {

using namespace terminal;

TEST(ProveVerbs, fitTheirSchemas) {
    for (const std::string project : examples) {
        for (const char* verb : {"bring-up", "inspect", "fit", "account"})
            expectValid(verb, cli(verb + std::string(" ") + project + " --json"));
        expectValid("care", cli("care " + project + " --day 2026-11-26 --json"));
    }
}

TEST(ProveVerbs, sayTheSameInWords) {
    const auto steps = json::parse(cli("bring-up " + stage + " --json").out)["steps"];
    const auto words = cli("bring-up " + stage);
    EXPECT_EQ(words.status, 0);
    ASSERT_GT(steps.size(), 20U);
    for (const auto& step : steps) EXPECT_NE(words.out.find(step["title"].get<std::string>()), std::string::npos) << step["title"];
    EXPECT_NE(cli("inspect " + stage).out.find("3 accepted, 1 suspect, 1 rejected"), std::string::npos)
        << "as the demo's five pieces stand by hand";
    EXPECT_NE(cli("care " + stage + " --day 2026-11-26").out.find("overdue by 8 days"), std::string::npos)
        << "90 days from the 20th of August end on the 18th of November";
}

TEST(ProveVerbs, strictSaysWhatBreaksByItsStatus) {
    EXPECT_EQ(cli("inspect " + stage).status, 0);
    EXPECT_EQ(cli("inspect " + stage + " --strict").status, 1) << "one piece of five is rejected";
    EXPECT_EQ(cli("fit " + stage + " --strict").status, 0) << "tight is not broken";
}

TEST(ProveVerbs, sayWhatIsNotAccepted) {
    for (const auto& [line, status] : {std::pair{"care " + stage + " --day sometime", 2},
                                       {"account " + stage + " --instead nothing", 2},
                                       {"test-sketch " + stage + " nobody --out /tmp", 2},
                                       {"report " + stage + " --day 31.12. --out /tmp/x.html", 2},
                                       {"bring-up /nowhere", 3},
                                       {"report " + stage + " --out /proc/none.zip", 3},
                                       {"test-sketch " + stage + " moon --out /proc/none", 3}}) {
        const auto said = cli(line);
        EXPECT_EQ(said.status, status) << line;
        EXPECT_TRUE(said.out.empty()) << line;
        EXPECT_EQ(std::count(said.err.begin(), said.err.end(), '\n'), 1) << line << ": one line\n" << said.err;
    }
}

TEST(ProveVerbs, sayWhatCouldStandInAndWhatToLookAt) {
    const auto found = json::parse(cli("account " + stage + " --instead bridge_3a --json").out);
    EXPECT_NE(found["part"], "bridge_3a");
    EXPECT_FALSE(found["verify"].empty());
    EXPECT_FALSE(found["by_hand"].empty());
}

TEST(ProveVerbs, writeASketchForOneChannel) {
    test::TemporaryFolder folder;
    const auto said = cli("test-sketch " + stage + " moon --out " + folder.path().string());
    EXPECT_EQ(said.status, 0) << said.err;
    EXPECT_NE(said.out.find("say middle"), std::string::npos);
    bool found = false;
    for (const auto& each : std::filesystem::recursive_directory_iterator(folder.path()))
        found = found || each.path().extension() == ".ino";
    EXPECT_TRUE(found);
}

// The packet as a folder and as a zip: the same files, and the same bytes each time.
TEST(Report, isAFolderOrAZipWithEverythingOpen) {
    test::TemporaryFolder folder;
    const auto at = [&](const char* name) { return (folder.path() / name).string(); };
    ASSERT_EQ(cli("report " + stage + " --day 2026-11-26 --out " + at("open")).status, 0);
    ASSERT_EQ(cli("report " + stage + " --day 2026-11-26 --out " + at("one.zip")).status, 0);
    ASSERT_EQ(cli("report " + stage + " --day 2026-11-26 --out " + at("two.zip")).status, 0);
    EXPECT_EQ(*files::readWhole(at("one.zip")), *files::readWhole(at("two.zip")));
    ASSERT_EQ(test::run("cd " + folder.path().string() + " && /usr/bin/python3 -m zipfile -e one.zip zipped").status, 0);
    const auto differs = test::run("diff -r " + at("open") + " " + at("zipped"));
    EXPECT_EQ(differs.status, 0) << differs.out;
    for (const char* file : {"packet.html", "project.json", "wiring.csv", "parts.csv", "steps.csv", "settings.csv", "journal.csv",
                             "fit.csv", "care.csv", "crossbar.svg", "wiring.svg", "scene.vcd", "schedule.ics"})
        EXPECT_TRUE(std::filesystem::exists(folder.path() / "open" / file)) << file;
    // The scene is a capture that the other verb reads; the project is one that opens.
    EXPECT_EQ(cli("measure " + at("open") + "/scene.vcd").status, 0);
    EXPECT_EQ(cli("plan " + at("open")).status, 0);
    // The drawings are XML, by Python's own parser.
    for (const char* drawing : {"crossbar.svg", "wiring.svg"})
        EXPECT_EQ(test::run(std::string("/usr/bin/python3 -c 'import sys,xml.dom.minidom as m; m.parse(sys.argv[1])' ") + at("open") + "/" +
                            drawing)
                      .status,
                  0)
            << drawing;
}

}  // namespace
}  // namespace hinge
