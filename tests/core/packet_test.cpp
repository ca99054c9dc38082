// The packet that is handed on: complete against the plan, valid, the same each time, and nothing of it outside its folder.
#include "report/packet.hpp"
#include <algorithm>
#include <set>
#include "capture/capture.hpp"
#include "drawing/circuit.hpp"
#include "plan/firmware_model.hpp"
#include "plan/machines.hpp"
#include "quantity/csv.hpp"
#include "report/calendar.hpp"
#include "simulation/scene.hpp"
#include "store/bundle.hpp"
#include "store/document.hpp"
#include "support/demo.hpp"
#include "support/folder.hpp"
#include "support/program.hpp"

namespace hinge::report {
namespace {

std::size_t countOf(const std::string& text, const std::string& what) {
    std::size_t n = 0;
    for (auto at = text.find(what); at != std::string::npos; at = text.find(what, at + what.size())) ++n;
    return n;
}

class PacketOf : public testing::TestWithParam<const char*> {
protected:
    [[nodiscard]] Packet packet() const { return packetOf(project_, parts_, {}, "2026-11-26"); }
    project::Parts parts_ = test::shippedParts();
    project::Project project_ = test::exampleProject(GetParam());
};

// IEC 60446 / 60445 (from memory): green, yellow and their mixture are the protective conductor's alone.
TEST(Wiring, proposesNoColourForAConductorOfTheMains) {
    const auto project = test::exampleProject("proofing-box");
    const auto parts = test::shippedParts();
    const auto rows = plan::wireRows(project, plan::wiring(project, parts, plan::evaluate(project, parts)));
    int live = 0, neutral = 0, earth = 0;
    for (const auto& row : rows) {
        const std::string ends = row.wire.from + " | " + row.wire.to;
        const bool mains = ends.find("mains") != std::string::npos || ends.find(" live") != std::string::npos ||
                           ends.find("load side") != std::string::npos;
        EXPECT_EQ(row.wire.mains, mains) << ends;
        if (!mains) continue;
        EXPECT_EQ(row.colour, "as your local code says") << ends;
        EXPECT_NE(row.wire.note.find("licensed"), std::string::npos) << ends;
        live += ends.find("live") != std::string::npos ? 1 : 0;
        neutral += ends.find("neutral") != std::string::npos ? 1 : 0;
        earth += ends.find("earth") != std::string::npos ? 1 : 0;
    }
    EXPECT_EQ(live, 2) << "to the switch, and on to the load";
    EXPECT_EQ(neutral, 1);
    EXPECT_EQ(earth, 1);
}

// Every pin of the plan stands in the wiring table, and every wire of the table on a label, twice asked for by its two ends.
TEST_P(PacketOf, wiringIsCompleteAgainstThePins) {
    const auto made = packet();
    const auto html = packetHtml(made);
    std::set<std::string> pins;
    for (const auto& channel : project_.channels)
        for (const auto& pin : {channel.pin, channel.direction_pin, channel.enable_pin})
            if (!pin.empty()) pins.insert(pin);
    for (const auto& input : project_.inputs)
        if (!input.pin.empty()) pins.insert(input.pin);
    ASSERT_GT(pins.size(), 3U);
    for (const auto& pin : pins)
        EXPECT_TRUE(std::any_of(made.wires.begin(), made.wires.end(), [&](const plan::WireRow& row) {
            return row.wire.from == "board " + pin || row.wire.to == "board " + pin;
        })) << pin;
    std::set<std::string> labels;
    for (const auto& row : made.wires) {
        EXPECT_TRUE(labels.insert(row.label).second) << row.label << " twice";
        EXPECT_NE(html.find("<td>" + row.label + "</td><td>" + escaped(row.wire.from) + "</td><td>" + escaped(row.wire.to) + "</td>"),
                  std::string::npos)
            << row.label;
        EXPECT_NE(html.find("<strong>" + row.label + "</strong>"), std::string::npos) << row.label << " has no label to cut out";
    }
}

TEST_P(PacketOf, everythingThatAStrangerNeedsIsInIt) {
    const auto made = packet();
    const auto html = packetHtml(made);
    for (const char* heading : {"Cautions", "Parts", "Supply", "Wiring", "Assembly, in this order",
                                "First power-up, one hold point after the other", "Use", "Settings", "Care", "Workings", "Sketch"})
        EXPECT_NE(html.find(std::string("<h2>") + heading + "</h2>"), std::string::npos) << heading;
    for (const auto& line : made.proved.account.lines)
        EXPECT_NE(html.find("<td>" + escaped(line.name) + "</td>"), std::string::npos) << line.name;
    for (const auto& step : made.proved.steps)
        EXPECT_NE(html.find("<td>" + escaped(step.title) + "</td>"), std::string::npos) << step.title;
    ASSERT_TRUE(made.proved.plan.program);
    for (const auto& parameter : made.proved.plan.program->parameters)
        EXPECT_NE(html.find("<td>" + parameter.name + "</td><td>" + std::to_string(parameter.value) + "</td>"), std::string::npos)
            << parameter.name;
    EXPECT_NE(html.find(escaped(made.sketch)), std::string::npos);
    // The crossbar, the whole gadget, and every wire of the list by its mark in a circuit.
    EXPECT_GT(countOf(html, "<svg"), 3U);
    for (const auto& row : made.wires) EXPECT_NE(html.find(">" + drawing::markOf(row) + "</text>"), std::string::npos) << row.label;
    EXPECT_EQ(countOf(html, "http"), countOf(html, "xmlns=\"http://www.w3.org/2000/svg\"")) << "nothing is fetched";
    EXPECT_NE(html.find("approves no design"), std::string::npos);
}

// The judge is outside: Tidy, of the HTML working group's own lineage.
TEST_P(PacketOf, isValidHtml) {
    if (test::run("command -v tidy > /dev/null").status != 0)
        GTEST_SKIP() << "tidy is not installed: packaging/install-packages installs it";
    const test::TemporaryFolder folder;
    const auto page = folder.path() / "packet.html";
    ASSERT_TRUE(files::writeWhole(page, packetHtml(packet())));
    const auto judged = test::run("tidy -q -e --custom-tags no " + page.string() + " 2>&1");
    EXPECT_EQ(judged.status, 0) << judged.out;
}

TEST_P(PacketOf, namesThatAreMarkupStayText) {
    project_.channels.front().name = "<script>alert('x')</script> & \"co\"";
    project_.brief.name = "</title><b>";
    const auto html = packetHtml(packet());
    EXPECT_EQ(html.find("<script>"), std::string::npos);
    EXPECT_EQ(html.find("</title><b>"), std::string::npos);
    EXPECT_NE(html.find("&lt;script&gt;"), std::string::npos);
}

TEST_P(PacketOf, folderHasEveryPieceByItself) {
    store::Document document;
    document.project = project_;
    const auto made = packet();
    const auto files = packetFiles(made, store::toText(document), "$end\n");
    std::set<std::string> paths;
    for (const auto& file : files) {
        EXPECT_TRUE(paths.insert(file.path).second) << file.path << " twice";
        EXPECT_FALSE(file.bytes.empty()) << file.path;
        if (!file.path.ends_with(".csv")) continue;
        // A row whose first cell is empty keeps its place.
        const auto rows = csvRows(file.bytes, file.path);
        ASSERT_TRUE(rows) << file.path;
        for (const auto& row : *rows) EXPECT_EQ(row.size(), rows->front().size()) << file.path << ": " << row.front();
    }
    for (const char* path : {"packet.html", "project.json", "wiring.csv", "parts.csv"}) EXPECT_TRUE(paths.count(path) > 0) << path;
    for (const char* path : {"crossbar.svg", "gadget.svg", "wiring.svg"}) EXPECT_TRUE(paths.count(path) > 0) << path;
    EXPECT_GE(std::count_if(paths.begin(), paths.end(), [](const std::string& p) { return p.ends_with(".ino"); }),
              1 + static_cast<long>(made.tests.size()));
    // The project that lies in it opens again, the same.
    const auto text = std::find_if(files.begin(), files.end(), [](const PacketFile& f) { return f.path == "project.json"; })->bytes;
    const auto again = store::fromText(text, "project.json");
    ASSERT_TRUE(again);
    EXPECT_TRUE(again->project == project_);
}

INSTANTIATE_TEST_SUITE_P(All, PacketOf, testing::Values("paper-moon-stage", "proofing-box", "tightrope-rider"), [](const auto& row) {
    std::string name = row.param;
    std::erase(name, '-');
    return name;
});

// Sentences written by hand from the routine of the stage.
TEST(Use, saysWhatAPersonDoesAndWhatHappensThen) {
    const auto project = test::exampleProject("paper-moon-stage");
    const auto lines = useOf(project, plan::evaluate(project, test::shippedParts()));
    const auto has = [&](const std::string& line) { return std::find(lines.begin(), lines.end(), line) != lines.end(); };
    EXPECT_TRUE(has("When 'scene' is pressed: House lamps runs for 30 s."));
    EXPECT_TRUE(has("When 'scene' is pressed: Curtain goes to 620 mm, then wait 20 s, then Curtain goes to 0 m."));
    EXPECT_TRUE(has("Never: Rain on with 'tank empty'."));
    EXPECT_TRUE(std::any_of(lines.begin(), lines.end(), [](const std::string& line) {
        return line.starts_with("When 'start' is pressed, or at 14:30 and 19:00, unless 'tank empty': Rain runs for ");
    }));
    for (const auto& channel : project.channels)
        EXPECT_TRUE(std::any_of(lines.begin(), lines.end(),
                                [&](const std::string& line) { return line.starts_with(channel.name + ": at power-up"); }))
            << channel.name << ": what it does when nobody does anything";
}

// Strength before glue, upload before what shares the serial pins, the test sketch before the case is closed.
TEST(Assembly, comesInAnOrderThatLosesNothing) {
    const auto order = [](const project::Project& project) {
        const auto plan = plan::evaluate(project, test::shippedParts());
        return assemblyOrder(project, proof::proved(project, test::shippedParts(), plan));
    };
    const auto place = [](const std::vector<std::string>& lines, const std::string& words) {
        const auto at =
            std::find_if(lines.begin(), lines.end(), [&](const std::string& line) { return line.find(words) != std::string::npos; });
        EXPECT_NE(at, lines.end()) << words;
        return at - lines.begin();
    };
    const auto project = test::exampleProject("paper-moon-stage");
    const auto lines = order(project);
    EXPECT_LT(place(lines, "before anything is glued"), place(lines, "Moon arm: wire it straight to its pin"));
    EXPECT_LT(place(lines, "tried and accepted (3 of 5)"), place(lines, "Moon arm: wire"));
    EXPECT_LT(place(lines, "12 V rail: straight from its source; its fuse of 1.60 A first"), place(lines, "Upload the sketch"));
    EXPECT_LT(place(lines, "Upload the sketch"), place(lines, "Rain: wire its"));
    EXPECT_LT(place(lines, "Load its test sketch"), place(lines, "all channels together"));
    EXPECT_LT(place(lines, "all channels together"), place(lines, "Then close the case"));
    EXPECT_EQ(place(lines, "Then close the case"), static_cast<std::ptrdiff_t>(lines.size()) - 1);
    EXPECT_LT(place(lines, "only then its horn"), place(lines, "all channels together"));
    const auto serial = order(test::edited(project, {{"channels/lamps/pin", "D1"}}));
    EXPECT_LT(place(serial, "before anything is soldered to D0 and D1"), place(serial, "House lamps: wire"));
}

TEST(PacketPhotos, areInThePageAndMissingOnesAreSaid) {
    auto project = test::exampleProject("paper-moon-stage");
    project.journal.entries.front().kind = journal::EntryKind::Note;
    project.journal.entries.front().photo = "frame.jpg";
    project.journal.entries.back().kind = journal::EntryKind::Note;
    project.journal.entries.back().photo = "../../etc/passwd";
    EXPECT_EQ(photosOf(project), std::vector<std::string>{"frame.jpg"}) << "a name that leads out of the folder is none";
    auto packet = packetOf(project, test::shippedParts(), {}, "");
    EXPECT_NE(packetHtml(packet).find("photo frame.jpg was not found"), std::string::npos);
    packet.photos["frame.jpg"] = "Man";  // RFC 4648's and every textbook's first example: TWFu
    EXPECT_NE(packetHtml(packet).find("base64,TWFu\""), std::string::npos);
    packet.photos["frame.jpg"] = "Ma";
    EXPECT_NE(packetHtml(packet).find("base64,TWE=\""), std::string::npos);
}

TEST(Bundle, isTheSameEachTimeAndReadsBack) {
    const test::TemporaryFolder folder;
    const std::vector<store::BundleFile> files{
        {"packet.html", "<p>one</p>"}, {"sketch/it/it.ino", std::string("a\0b", 3)}, {"photos/ünïcode.jpg", "x"}};
    const auto zip = folder.path() / "it.zip", twice = folder.path() / "twice.zip";
    ASSERT_TRUE(store::writeZip(files, zip));
    ASSERT_TRUE(store::writeZip(files, twice));
    EXPECT_EQ(*files::readWhole(zip), *files::readWhole(twice));
    // Python's own zip reader is the judge.
    const auto read = test::run(
        "/usr/bin/python3 -c \"import zipfile,sys;z=zipfile.ZipFile(sys.argv[1]);print(z.testzip());[print(n,len(z.read(n))) for n in "
        "z.namelist()]\" " +
        zip.string());
    EXPECT_EQ(read.out, "None\npacket.html 10\nsketch/it/it.ino 3\nphotos/ünïcode.jpg 1\n");
    // Over an older one, nothing of which is left.
    ASSERT_TRUE(store::writeZip({{"only.txt", "1"}}, zip));
    EXPECT_EQ(test::run("/usr/bin/python3 -c \"import zipfile,sys;print(zipfile.ZipFile(sys.argv[1]).namelist())\" " + zip.string()).out,
              "['only.txt']\n");
    ASSERT_TRUE(store::writeFolder(files, folder.path() / "open"));
    EXPECT_EQ(*files::readWhole(folder.path() / "open" / "sketch" / "it" / "it.ino"), std::string("a\0b", 3));
}

TEST(Bundle, staysInItsFolder) {
    const test::TemporaryFolder folder;
    for (const char* path : {"../out.txt", "/tmp/out.txt", "a/../../out.txt", ""}) {
        EXPECT_FALSE(store::writeFolder({{"fine.txt", "1"}, {path, "x"}}, folder.path() / "in")) << path;
        EXPECT_FALSE(store::writeZip({{"fine.txt", "1"}, {path, "x"}}, folder.path() / "in.zip")) << path;
    }
    EXPECT_FALSE(std::filesystem::exists(folder.path() / "out.txt"));
    EXPECT_FALSE(std::filesystem::exists(folder.path() / "in" / "fine.txt")) << "nothing is begun that cannot be ended";
}

TEST(Bundle, saysWhyItCannot) {
    const auto refused = store::writeZip({{"a", "b"}}, "/nowhere/at/all.zip");
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().code, ErrorCode::NotWritable);
    EXPECT_FALSE(store::writeFolder({{"a", "b"}}, "/proc/none"));
}

// RFC 5545: a care every 30 days, done on the 8th of November, comes up on the 8th of December and each 30 days after.
TEST(CareCalendar, recursFromTheDayItIsDue) {
    auto project = test::exampleProject("paper-moon-stage");
    project.journal.care = {{"strainer", "rain", "clear its strainer", of<Duration>(30 * 86400.0), "2026-11-08"}};
    const auto ics = calendarOf(project, {2026, 11, 26}, "20261126T080000Z");
    const auto at = ics.find("clear its strainer");
    ASSERT_NE(at, std::string::npos);
    const auto begin = ics.rfind("BEGIN:VEVENT", at), end = ics.find("END:VEVENT", at);
    const auto event = ics.substr(begin, end - begin);
    EXPECT_NE(event.find("DTSTART;VALUE=DATE:20261208"), std::string::npos) << event;
    EXPECT_NE(event.find("RRULE:FREQ=DAILY;INTERVAL=30"), std::string::npos) << event;
}

// The scene's file, read by the reader of captures: the same edges at the same microseconds.
TEST(SceneVcd, hasTheEdgesOfTheScene) {
    const auto project = test::exampleProject("paper-moon-stage");
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(project, parts);
    ASSERT_TRUE(plan.program);
    const auto plants = plan::plantsOf(project, parts, plan);
    ASSERT_TRUE(plants);
    simulation::Options options;
    options.events = simulation::everyCueOnce(*plan.program);
    options.length = 40.0;
    options.machines = plan::heldMachines(project, parts, plan);
    const auto traces = simulation::simulate(*plan.program, *plants, options);
    ASSERT_TRUE(traces);
    const test::TemporaryFolder folder;
    const auto file = folder.path() / "scene.vcd";
    ASSERT_TRUE(files::writeWhole(file, simulation::sceneVcd(*traces, nullptr, *plan.program)));
    capture::Options keep;
    keep.keep_edges = 10'000;
    const auto read = capture::readFile(file, keep);
    ASSERT_TRUE(read) << sentence(read.error());
    EXPECT_NEAR(read->length, 40.0, 0.1);
    int compared = 0;
    for (std::size_t o = 0; o < plan.program->outputs.size(); ++o) {
        std::vector<double> edges;
        for (const auto& each : traces->switchings)
            if (each.output == static_cast<int>(o) && each.time > 0.0) edges.push_back(each.time);
        const auto signal = std::find_if(read->signals.begin(), read->signals.end(),
                                         [&](const auto& s) { return s.name.ends_with(plan.program->outputs[o].id); });
        ASSERT_NE(signal, read->signals.end()) << plan.program->outputs[o].id;
        const auto& line = read->lines[static_cast<std::size_t>(signal - read->signals.begin())];
        ASSERT_EQ(line.edges.size(), edges.size()) << plan.program->outputs[o].id;
        for (std::size_t k = 0; k < edges.size(); ++k, ++compared)
            EXPECT_NEAR(line.edges[k], edges[k], 1.1e-6) << plan.program->outputs[o].id;
    }
    EXPECT_GT(compared, 6);
}

}  // namespace
}  // namespace hinge::report
