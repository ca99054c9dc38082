// The command line: every verb, every exit status, JSON against its schema.
#include <gtest/gtest.h>
#include <algorithm>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>
#include <set>
#include <sstream>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validator.hpp>
#include "cli/said.hpp"
#include "store/document.hpp"
#include "support/folder.hpp"
#include "support/program.hpp"

namespace hinge {
namespace {

using namespace terminal;

TEST(FullOutput, endsWithAStatusAndASentence) {
    for (const std::string& verb : std::vector<std::string>{"work", "work dose volume=100mL flow=1L/min", "plan " + demo,
                                                            "match " + demo + " rain --json", "--help"}) {
        test::TemporaryFolder folder;
        const std::string errors = (folder.path() / "err").string();
        const auto outcome = test::run(std::string{HINGE_CLI} + " " + verb + " 2> " + errors + " > /dev/full");
        EXPECT_EQ(outcome.status, 3) << verb;
        const auto said = files::readWhole(errors).value_or("");
        EXPECT_NE(said.find("standard output could not be written"), std::string::npos) << verb << ": " << said;
        EXPECT_EQ(std::count(said.begin(), said.end(), '\n'), 1) << said;
    }
}

// A stranger's name that would order the terminal about: its bytes never reach it, on either output.
TEST(Terminal, aStrangersNameIsNoOrderToIt) {
    test::TemporaryFolder folder;
    auto json = nlohmann::json::parse(*files::readWhole(std::string(HINGE_SOURCE_DIR "/demos/snail-hour/project.json")));
    json["brief"]["name"] = "red \x1b[31m\x07 \xC2\x9B 5m";
    json["channels"][0]["name"] = "slide\r\x1b]0;title\x07";
    json["rails"][0]["from"] = "no\x1b[2Jwhere";
    ASSERT_TRUE(files::writeWhole(folder.path() / "project.json", json.dump()));
    for (const char* verb : {"plan", "match", "wiring", "simulate", "prove-interlocks", "frobnicate"}) {
        const auto said = cli(std::string{verb} + " " + folder.path().string());
        for (const std::string& text : {said.out, said.err}) {
            for (const char c : text) EXPECT_TRUE(static_cast<unsigned char>(c) >= 0x20 || c == '\n' || c == '\t') << verb;
            EXPECT_EQ(text.find("\xC2\x9B"), std::string::npos) << verb;
        }
    }
    EXPECT_NE(cli("plan " + folder.path().string()).out.find("red ?[31m? ? 5m"), std::string::npos) << "and the rest of it is shown";
}

TEST(Work, listsAndHelps) {
    const auto list = cli("work");
    EXPECT_EQ(list.status, 0);
    for (const char* name :
         {"pull-torque",    "dose",       "pump-head",      "pump-point",       "dc-motor",       "mosfet-switch", "gate-network",
          "bjt-switch",     "flyback",    "contact-rating", "linear-regulator", "buck-converter", "wire-drop",     "fuse",
          "bulk-capacitor", "coil-drive", "pwm-timer",      "adc-reading",      "time-of-day",    "worth-it",      "preferred-value"}) {
        EXPECT_NE(list.out.find(name), std::string::npos) << name;
        const auto help = cli(std::string{"work "} + name + " --help");
        EXPECT_EQ(help.status, 0);
        for (const char* part : {"inputs", "results", "rule:", "source:"})
            EXPECT_NE(help.out.find(part), std::string::npos) << name << ' ' << part;
    }
}

TEST(Work, answersInTheFixedJson) {
    const auto said = cli("work pull-torque pull=1.4kgf arm='80 mm' --json");
    EXPECT_EQ(said.status, 0);
    expectValid("work", said);
    const auto answer = json::parse(said.out);
    EXPECT_DOUBLE_EQ(answer["inputs"]["factor"]["value"], 2.0) << "defaults are echoed";
    EXPECT_NEAR(answer["results"]["torque"]["value"].get<double>(), 1.4 * 9.80665 * 0.08, 1e-12);
    EXPECT_EQ(answer["verdict"], "holds");
    const auto wire = json::parse(cli("work wire-drop awg=0000 length=1 current=1 --json").out);
    EXPECT_EQ(wire["inputs"]["awg"]["value"], -3);
    EXPECT_TRUE(wire["inputs"]["area"]["value"].is_null()) << "no number to give is null";
    const auto curve = json::parse(cli("work pump-point 'curve=0:3, 0.00003:0' static_head=1 system_k=1e9 --json").out);
    EXPECT_EQ(curve["inputs"]["curve"]["value"].size(), 4U);
    const auto ever = json::parse(cli("work worth-it parts_cost=10 hours=2 minutes_saved_per_use=0 uses_per_week=1 --json").out);
    EXPECT_TRUE(ever["results"]["payback_weeks"]["value"].is_null());
    EXPECT_EQ(ever["verdict"], "unknown");
    EXPECT_EQ(ever["inputs"]["hours"]["value"], 2.0) << "in the unit its name says";
}

TEST(Work, strictSaysBreaksByItsStatus) {
    const std::string hot = "work linear-regulator v_in=12 v_out=5 current=1";
    EXPECT_EQ(cli(hot).status, 0);
    EXPECT_EQ(cli(hot + " --strict").status, 1);
    EXPECT_EQ(cli("work linear-regulator v_in=12 v_out=5 current=0.01 --strict").status, 0);
}

struct Bad {
    const char* name;
    const char* arguments;
    int status;
    const char* names;  // what the one line on standard error must name
};
const Bad bad[] = {
    {"UnknownVerb", "frobnicate", 2, "frobnicate"},
    {"NoVerb", "", 2, ""},
    {"UnknownWorking", "work nope", 2, "nope"},
    {"UnknownInput", "work pull-torque pull=1 arm=1 colour=red", 2, "colour"},
    {"InputTwice", "work pull-torque pull=1 pull=2 arm=1", 2, "pull"},
    {"MissingInput", "work pull-torque pull=1", 2, "arm"},
    {"MassForForce", "work pull-torque pull=1.4kg arm=1", 2, "kgf"},
    {"NotAnInput", "work pull-torque hello", 2, "hello"},
    {"TwoOfAGroup", "work adc-reading reference=5 bits=10 voltage=1 counts=2", 2, "voltage / counts"},
    {"NoneOfAGroup", "work adc-reading reference=5 bits=10", 2, "voltage / counts"},
    {"OutOfReach", "work pwm-timer mcu=atmega328p frequency=30MHz", 2, "frequency"},
    {"NoProject", "plan /nonexistent", 3, "/nonexistent"},
    {"UnknownChannel", "match DEMO ghost", 2, "ghost"},
    {"NoCatalogue", "match DEMO rain --catalogue /nonexistent", 3, "/nonexistent"},
    {"BadTime", "simulate DEMO --for tomorrow", 2, "tomorrow"},
    {"NoEvents", "simulate DEMO --events /nonexistent", 3, "/nonexistent"},
    {"BadRunTime", "run DEMO --for -1s", 2, "-1s"},
    {"EmitNowhere", "emit DEMO --out /proc/nope", 3, "/proc/nope"},
    {"UnknownOption", "plan DEMO --colour", 2, "colour"},
};
class BadRequests : public testing::TestWithParam<Bad> {};
TEST_P(BadRequests, sayOneLineAndNothingOnStandardOutput) {
    std::string arguments = GetParam().arguments;
    if (const auto at = arguments.find("DEMO"); at != std::string::npos) arguments.replace(at, 4, demo);
    const auto said = cli(arguments);
    EXPECT_EQ(said.status, GetParam().status);
    EXPECT_TRUE(said.out.empty()) << said.out;
    EXPECT_EQ(std::count(said.err.begin(), said.err.end(), '\n'), 1) << said.err;
    EXPECT_NE(said.err.find(GetParam().names), std::string::npos) << said.err;
}
INSTANTIATE_TEST_SUITE_P(Table, BadRequests, testing::ValuesIn(bad), [](const auto& row) { return std::string{row.param.name}; });

TEST(Plan, isValidAndStrictOnlyWhenItBreaks) {
    const auto said = cli("plan " + demo + " --json");
    EXPECT_EQ(said.status, 0);
    expectValid("plan", said);
    EXPECT_EQ(cli("plan " + demo + " --strict").status, 0);
    test::TemporaryFolder folder;
    auto document = store::load(demo);
    ASSERT_TRUE(document);
    document->project.channels.front().drive.part = "mosfet_ordinary_55v";
    ASSERT_TRUE(store::save(*document, folder.path()));
    EXPECT_EQ(cli("plan " + folder.path().string()).status, 0);
    EXPECT_EQ(cli("plan " + folder.path().string() + " --strict").status, 1);
}

TEST(Match, isValid) {
    expectValid("match", cli("match " + demo + " rain --json"));
}

TEST(Simulate, isValidAndWritesCsv) {
    test::TemporaryFolder folder;
    const auto events = folder.path() / "events.csv", csv = folder.path() / "out.csv";
    std::ofstream(events) << "time,what,value\n0.5,start,1\n0.7,start,0\n";
    const auto said = cli("simulate " + demo + " --for 6s --json --events " + events.string());
    expectValid("simulate", said);
    EXPECT_EQ(json::parse(said.out)["edges"].size(), 2U);
    EXPECT_EQ(cli("simulate " + demo + " --for 6s --events " + events.string() + " --csv " + csv.string()).status, 0);
    const auto text = files::readWhole(csv);
    ASSERT_TRUE(text);
    EXPECT_EQ(text->substr(0, text->find('\n')), "time,current,poured,rain");
}

TEST(ProveInterlocks, isValidAndSaysViolatedByItsStatus) {
    const auto proved = cli("prove-interlocks " + demo + " --json");
    EXPECT_EQ(proved.status, 0);
    expectValid("prove-interlocks", proved);
    test::TemporaryFolder folder;
    auto document = store::load(demo);
    document->project.routine.cues.front().guards.front().throughout = false;
    ASSERT_TRUE(store::save(*document, folder.path()));
    const auto violated = cli("prove-interlocks " + folder.path().string() + " --json");
    EXPECT_EQ(violated.status, 1);
    expectValid("prove-interlocks", violated);
    EXPECT_FALSE(json::parse(violated.out)["interlocks"][0]["story"].empty());
}

TEST(Emit, writesSketchWiringAndParts) {
    test::TemporaryFolder folder;
    const auto said = cli("emit " + demo + " --out " + folder.path().string());
    EXPECT_EQ(said.status, 0) << said.err;
    for (const char* name : {"the_paper_moon_stage.ino", "the_paper_moon_stage.cir", "wiring.csv", "parts.csv", "parameters.csv"})
        EXPECT_TRUE(files::readWhole(folder.path() / "the_paper_moon_stage" / name)) << name;
}

// Something in the way of the last but one: nothing of the set is new, and nothing lies beside it.
TEST(Emit, writesAllOfItOrNothing) {
    test::TemporaryFolder folder;
    const std::string emit = "emit " + demo + " --out " + folder.path().string();
    ASSERT_EQ(cli(emit).status, 0);
    const auto out = folder.path() / "the_paper_moon_stage";
    for (const char* name : {"gadget.h", "src/spark_tick.h", "the_paper_moon_stage.ino"})
        ASSERT_TRUE(files::writeWhole(out / name, "// old"));
    std::filesystem::remove(out / "parameters.csv");
    std::filesystem::create_directory(out / "parameters.csv");
    const auto said = cli(emit);
    EXPECT_NE(said.status, 0);
    EXPECT_NE(said.err.find("parameters.csv"), std::string::npos) << said.err;
    for (const char* name : {"gadget.h", "src/spark_tick.h", "the_paper_moon_stage.ino"})
        EXPECT_EQ(*files::readWhole(out / name), "// old") << name;
    for (const auto& each : std::filesystem::recursive_directory_iterator(out))
        EXPECT_EQ(each.path().string().find(".part"), std::string::npos) << each.path();
    std::filesystem::remove(out / "parameters.csv");
    ASSERT_EQ(cli(emit).status, 0);
    EXPECT_NE(*files::readWhole(out / "src/spark_tick.h"), "// old");
}

TEST(Emit, keepsWhatAHandWrote) {
    test::TemporaryFolder folder;
    const std::string emit = "emit " + demo + " --out " + folder.path().string();
    const auto first = cli(emit);
    ASSERT_EQ(first.status, 0) << first.err;
    const std::string ino = first.out.substr(0, first.out.find('\n'));
    auto text = *files::readWhole(ino);
    const std::string mark = "// >>> yours: top\n";
    ASSERT_NE(text.find(mark), std::string::npos);
    text.insert(text.find(mark) + mark.size(), "int laps = 0;  // mine\n");
    ASSERT_TRUE(files::writeWhole(ino, text));
    ASSERT_EQ(cli(emit).status, 0);
    EXPECT_EQ(*files::readWhole(ino), text);
}
TEST(Examine, saysWhatASketchDoesAndRefusesWhatIsNone) {
    const std::string mine = HINGE_SOURCE_DIR "/tests/sketches/blocking.ino";
    if (cli("run " + demo + " --for 0.1s").status != 0) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
    const auto said = cli("examine " + mine + " " + demo + " --for 1s --json");
    EXPECT_EQ(said.status, 0) << said.err;
    expectValid("examine", said);
    EXPECT_EQ(json::parse(said.out)["habits"].size(), 4U) << "two waits, a level, a count";
    EXPECT_EQ(cli("examine /no/such.ino " + demo + " --for 1s").status, 3);
    EXPECT_EQ(cli("examine " + demo + "/project.json " + demo + " --for 1s").status, 2);
    EXPECT_EQ(cli("examine " + mine + " " + demo + " --for never").status, 2);
}
TEST(Upload, isRefusedWhereNothingOrNobodyIsReady) {
    if (cli("run " + demo + " --for 0.1s").status != 0) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
    EXPECT_NE(cli("upload " + demo + " --port /dev/not-there").status, 0);
    const auto unsafe = cli("upload " HINGE_SOURCE_DIR "/demos/paper-moon-stage --port /dev/null");
    EXPECT_EQ(unsafe.status, 2);
    EXPECT_NE(unsafe.err.find("horns off"), std::string::npos) << unsafe.err;
}

TEST(Run, isValidAndWritesTheEdges) {
    test::TemporaryFolder folder;
    const auto vcd = folder.path() / "edges.vcd";
    const auto said = cli("run " + demo + " --for 5s --json --vcd " + vcd.string());
    if (said.status == 3) GTEST_SKIP() << said.err;
    expectValid("run", said);
    for (const auto& output : json::parse(said.out)["outputs"]) EXPECT_TRUE(output["on"].empty()) << "nobody has pressed anything";
    const auto text = files::readWhole(vcd);
    ASSERT_TRUE(text);
    EXPECT_NE(text->find("$timescale 1 ns $end"), std::string::npos);
    EXPECT_NE(text->find("$enddefinitions $end"), std::string::npos);
}

TEST(Schema, isThePublishedOneAndTheDemoFitsIt) {
    const auto said = cli("schema");
    EXPECT_EQ(json::parse(said.out), json::parse(*files::readWhole(HINGE_SOURCE_DIR "/docs/schemas/project.json")));
    expectValid("project", json::parse(*files::readWhole(demo + "/project.json")));
}

const std::string stage = HINGE_SOURCE_DIR "/demos/paper-moon-stage";

TEST(Match, ranksEveryChannelOfTheStageBySchema) {
    for (const char* channel : {"rain", "curtain", "moon", "mist", "turntable", "lamps"}) {
        const auto said = cli("match " + stage + " " + channel + " --json");
        EXPECT_EQ(said.status, 0) << channel;
        expectValid("match", said);
        EXPECT_FALSE(json::parse(said.out)["drivers"].empty()) << channel;
    }
}

TEST(Match, aSwapIsShownAndNothingIsWritten) {
    const auto before = files::readWhole(stage + "/project.json").value();
    const auto said = cli("match " + stage + " moon --swap servo_standard --json");
    EXPECT_EQ(said.status, 0) << said.err;
    EXPECT_FALSE(json::parse(said.out)["changes"].empty());
    EXPECT_EQ(files::readWhole(stage + "/project.json").value(), before);
    const auto unknown = cli("match " + stage + " moon --swap nothing");
    EXPECT_EQ(unknown.status, 2);
    EXPECT_NE(unknown.err.find("nothing"), std::string::npos);
    EXPECT_TRUE(unknown.out.empty());
}

TEST(Parts, saysRowByRowWhatWasLeftOut) {
    EXPECT_EQ(cli("parts").status, 0);
    test::TemporaryFolder folder;
    std::ofstream(folder.path() / "motors.csv")
        << "id,name,nominal_voltage [V],gear_efficiency\na,Good,12,0.7\nb,Bad,12,1.7\na,Twice,6,0.5\n";
    const auto table = (folder.path() / "left.csv").string();
    const auto said = cli("parts " + folder.path().string() + " --json --csv " + table);
    EXPECT_EQ(said.status, 0);
    const auto problems = json::parse(said.out)["problems"];
    ASSERT_EQ(problems.size(), 2U);
    EXPECT_EQ(problems[0]["row"], 3);
    EXPECT_EQ(problems[0]["column"], "gear_efficiency");
    EXPECT_EQ(problems[1]["column"], "id");
    EXPECT_NE(files::readWhole(table).value().find("gear_efficiency"), std::string::npos);
    EXPECT_EQ(cli("parts /nonexistent").status, 3);
}

// What the sketch cannot drive is refused by name, and goes on without it only on purpose.
TEST(Emit, refusesWhatTheSketchDoesNotDriveUnlessItIsLeftOut) {
    test::TemporaryFolder folder;
    std::filesystem::copy(HINGE_SOURCE_DIR "/demos/paper-moon-stage", folder.path() / "stage", std::filesystem::copy_options::recursive);
    const auto file = folder.path() / "stage" / "project.json";
    auto project = json::parse(*files::readWhole(file));
    for (auto& channel : project["channels"])
        if (channel["id"] == "moon") channel["drive"]["part"] = "mosfet_logic_30v";
    std::ofstream(file) << project.dump();
    const std::string stage = (folder.path() / "stage").string(), out = " --out " + (folder.path() / "out").string();
    const auto refused = cli("emit " + stage + out);
    EXPECT_EQ(refused.status, 3);
    EXPECT_TRUE(refused.out.empty());
    EXPECT_NE(refused.err.find("channels/moon"), std::string::npos) << refused.err;
    EXPECT_NE(refused.err.find("--without moon"), std::string::npos) << refused.err;
    EXPECT_EQ(std::count(refused.err.begin(), refused.err.end(), '\n'), 1);
    EXPECT_EQ(cli("run " + stage + " --for 1s").status, 3);
    EXPECT_EQ(cli("emit " + stage + out + " --without sun").status, 2) << "no such channel";
    const auto without = cli("emit " + stage + out + " --without moon");
    ASSERT_EQ(without.status, 0) << without.err;
    const auto sketch = files::readWhole(folder.path() / "out" / "the_paper_moon_stage" / "the_paper_moon_stage.ino");
    ASSERT_TRUE(sketch);
    EXPECT_NE(sketch->find("digitalWrite(3, LOW); pinMode(3, OUTPUT);  // D3, Moon arm"), std::string::npos)
        << "its pin stands still, and does not float";
    EXPECT_NE(sketch->find("Curtain"), std::string::npos) << "the rest is there";
}

// The emitted sketch on the emulated board, its pins written as VCD, measured and laid against the plan.
TEST(Measure, whatTheBoardDidHoldsAgainstThePlan) {
    test::TemporaryFolder folder;
    const std::string events = (folder.path() / "events.csv").string(), vcd = (folder.path() / "stage.vcd").string();
    ASSERT_TRUE(files::writeWhole(events, "0.5,scene,1\n0.7,scene,0\n"));
    const std::string stage = HINGE_SOURCE_DIR "/demos/paper-moon-stage";
    const auto ran = cli("run " + stage + " --for 12s --events " + events + " --vcd " + vcd + " --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    // The stepper's direction and enable lines stand beside its steps: it goes there and back, so the one turns round and the other is low.
    const auto capture = files::readWhole(vcd);
    ASSERT_TRUE(capture);
    for (const auto* line : {" curtain_direction $end", " curtain_enable $end"}) {
        const auto at = capture->find(line);
        ASSERT_NE(at, std::string::npos) << line;
        const std::string code = capture->substr(at - 2, 2);
        EXPECT_NE(capture->find("\n1" + code + "\n"), std::string::npos) << line;
    }
    const auto said = cli("measure " + vcd + " --against " + stage + " --json --strict");
    EXPECT_EQ(said.status, 0) << said.err;
    expectValid("measure", said);
    const auto answer = json::parse(said.out);
    std::set<std::string> seen;
    for (const auto& check : answer["checks"]) {
        EXPECT_EQ(check["verdict"], "holds") << check;
        seen.insert(check["what"]);
    }
    for (const char* what : {"steps of a move", "fastest steps", "frame", "longest pulse", "PWM frequency"})
        EXPECT_TRUE(seen.contains(what)) << what;
    // By hand: 0.62 m on a pulley of 40 mm a turn, 800 micro-steps a turn.
    for (const auto& signal : answer["signals"])
        if (signal["name"] == "curtain") EXPECT_EQ(signal["rises"], 12400);
}

// The page is whole: every tag closed in its turn (Python's own parser), every wire and hold point in it.
TEST(Report, isOnePageWithEverythingInIt) {
    test::TemporaryFolder folder;
    const std::string page = (folder.path() / "packet.html").string();
    ASSERT_EQ(cli("report " HINGE_SOURCE_DIR "/demos/paper-moon-stage --out " + page).status, 0);
    const auto text = files::readWhole(page);
    ASSERT_TRUE(text);
    const std::string script = (folder.path() / "nesting.py").string();
    ASSERT_TRUE(files::writeWhole(
        script,
        "import sys\nfrom html.parser import HTMLParser\nvoid={'meta','br','hr','img','input','link','rect','path'}\nclass "
        "P(HTMLParser):\n    stack=[]\n    def handle_starttag(self,t,a):\n        if t not in void: self.stack.append(t)\n    def "
        "handle_startendtag(self,t,a): pass\n"
        "    def handle_endtag(self,t):\n        if not self.stack or self.stack.pop()!=t: sys.exit('</'+t+'> at "
        "'+str(self.getpos()))\np=P()\np.feed(open(sys.argv[1],encoding='utf-8').read())\nsys.exit(' '.join(p.stack) if p.stack else "
        "0)\n"));
    EXPECT_EQ(test::run("/usr/bin/python3 " + script + " " + page).status, 0);
    const auto emitted = folder.path() / "out";
    ASSERT_EQ(cli("emit " HINGE_SOURCE_DIR "/demos/paper-moon-stage --out " + emitted.string()).status, 0);
    const auto wires = files::readWhole((emitted / "the_paper_moon_stage" / "wiring.csv").string());
    ASSERT_TRUE(wires);
    std::istringstream lines(*wires);
    std::string line;
    std::getline(lines, line);
    int count = 0;
    while (std::getline(lines, line)) {
        const std::string label = line.substr(0, line.find(','));
        EXPECT_NE(text->find("<td>" + label + "</td>"), std::string::npos) << line;
        ++count;
    }
    EXPECT_GT(count, 20);
    for (const char* must : {"First power-up", "licensed electrician", "Workings", "#include &lt;Arduino.h&gt;", "<svg "})
        EXPECT_NE(text->find(must), std::string::npos) << must;
    EXPECT_EQ(text->find("http://www.w3.org/2000/svg") == std::string::npos, false);
    EXPECT_EQ(text->find("<script"), std::string::npos);
    EXPECT_EQ(cli("report " HINGE_SOURCE_DIR "/demos/paper-moon-stage --out /no/such/folder/x.html").status, 3);
}

TEST(Measure, refusesWhatIsNoCapture) {
    test::TemporaryFolder folder;
    EXPECT_EQ(cli("measure /no/such/capture.vcd").status, 3);
    const std::string odd = (folder.path() / "odd.csv").string();
    ASSERT_TRUE(files::writeWhole(odd, "time,a\n0,0\n1,up\n2,0\n"));
    const auto said = cli("measure " + odd);
    EXPECT_EQ(said.status, 2);
    EXPECT_TRUE(said.out.empty());
    EXPECT_NE(said.err.find("line 3"), std::string::npos) << said.err;
    EXPECT_EQ(cli("measure " + odd + " --threshold loud").status, 2);
}

// ---- tune, find-fault -------------------------------------------------------------------------------

TEST(Tune, saysWhatTheGainsDoAndFindsBetterOnes) {
    const auto said = cli("tune " + stage + " --json");
    ASSERT_EQ(said.status, 0) << said.err;
    const auto answer = json::parse(said.out);
    EXPECT_EQ(answer["loop"], "spin_speed");
    EXPECT_TRUE(answer["margins"]["stable"].get<bool>());
    EXPECT_GT(answer["margins"]["longest_period_s"].get<double>(), 0.06);
    EXPECT_LE(answer["response"]["settled_s"].get<double>(), 1.0);
    EXPECT_FALSE(answer["assumed"].empty()) << "what is assumed is said";
    const auto before = files::readWhole(stage + "/project.json").value();
    test::TemporaryFolder folder;
    const auto csv = (folder.path() / "run.csv").string();
    const auto found = cli("tune " + stage + " spin_speed --search quick --json --csv " + csv);
    ASSERT_EQ(found.status, 0) << found.err;
    EXPECT_LE(json::parse(found.out)["search"]["after"].get<double>(), json::parse(found.out)["search"]["before"].get<double>());
    EXPECT_EQ(files::readWhole(stage + "/project.json").value(), before) << "nothing is written";
    EXPECT_EQ(files::readWhole(csv).value().rfind("time,wanted,reading,drive,value\n", 0), 0U);
    const auto rider = cli("tune " HINGE_SOURCE_DIR "/demos/tightrope-rider --json");
    EXPECT_TRUE(json::parse(rider.out)["standing"]["stands"].get<bool>());
}

TEST(Tune, refusesWhatIsNoLoop) {
    for (const auto& [arguments, word] : {std::pair<std::string, std::string>{stage + " nothing", "nothing"},
                                          {stage + " spin_speed --search wild", "wild"},
                                          {demo, "loop"}}) {
        const auto said = cli("tune " + arguments);
        EXPECT_EQ(said.status, 2) << arguments;
        EXPECT_NE(said.err.find(word), std::string::npos) << said.err;
        EXPECT_TRUE(said.out.empty());
    }
    EXPECT_EQ(cli("tune " + stage + " spin_speed --csv /nowhere/at/all.csv").status, 3);
}

TEST(FindFault, ranksAndAsksOn) {
    const auto said = cli("find-fault " + stage + " turntable --seen symptom=hums --json");
    ASSERT_EQ(said.status, 0) << said.err;
    const auto answer = json::parse(said.out);
    double sum = 0.0;
    for (const auto& cause : answer["causes"]) sum += cause["probability"].get<double>();
    EXPECT_NEAR(sum, 1.0, 1e-9);
    EXPECT_FALSE(answer["next"].empty());
    const auto stiff = json::parse(cli("find-fault " + stage + " turntable --seen symptom=hums --seen by_hand=stiff --json").out);
    EXPECT_EQ(stiff["causes"][0]["id"], "jammed");
    for (const auto& [arguments, word] : {std::pair<std::string, std::string>{" nobody", "nobody"},
                                          {" turntable --seen symptom=purple", "purple"},
                                          {" turntable --seen tea=leaves", "tea"},
                                          {" turntable --seen symptom=hums --seen symptom=weak", "once"}}) {
        const auto bad = cli("find-fault " + stage + arguments);
        EXPECT_EQ(bad.status, 2) << arguments;
        EXPECT_NE(bad.err.find(word), std::string::npos) << bad.err;
        EXPECT_TRUE(bad.out.empty());
    }
}

// By hand: two matinées a day; lines of 75 octets at most, CRLF, blocks that close.
TEST(Calendar, holdsTheMatineesAndKeepsTheFormat) {
    const auto said = cli("calendar " + demo + " --from 2026-11-26");
    ASSERT_EQ(said.status, 0) << said.err;
    std::istringstream lines(said.out);
    std::vector<std::string> open, starts;
    for (std::string line; std::getline(lines, line);) {
        ASSERT_FALSE(line.empty());
        ASSERT_EQ(line.back(), '\r') << line;
        line.pop_back();
        EXPECT_LE(line.size(), 75U) << line;
        if (line.rfind("BEGIN:", 0) == 0) open.push_back(line.substr(6));
        if (line.rfind("END:", 0) == 0) {
            ASSERT_FALSE(open.empty());
            EXPECT_EQ(open.back(), line.substr(4));
            open.pop_back();
        }
        if (line.rfind("DTSTART:", 0) == 0) starts.push_back(line.substr(8));
    }
    EXPECT_TRUE(open.empty());
    EXPECT_EQ(starts, (std::vector<std::string>{"20261126T143000", "20261126T190000"}));
    EXPECT_NE(said.out.find("RRULE:FREQ=DAILY"), std::string::npos);
    EXPECT_EQ(cli("calendar " + demo + " --from yesterday").status, 2);
    const auto none = cli("calendar " HINGE_SOURCE_DIR "/demos/tightrope-rider --from 2026-11-26");
    EXPECT_EQ(none.status, 2) << "nothing is scheduled there";
    EXPECT_TRUE(none.out.empty());
}

// ---- Prove and Log on the terminal

}  // namespace
}  // namespace hinge
