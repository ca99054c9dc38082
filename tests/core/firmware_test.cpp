#include <rapidcheck.h>
#include <fstream>
#include <map>
#include <sstream>
#include "plan/firmware_model.hpp"
#include "support/demo.hpp"

namespace hinge::firmware {
namespace {

std::string sketchText(const project::Project& project) {
    const auto sketch = plan::sketchOf(project, plan::evaluate(project, test::shippedParts()));
    EXPECT_TRUE(sketch) << sentence(sketch.error());
    return sketch ? sketch->text : "";
}
bool contains(const std::string& text, const std::string& part) {
    return text.find(part) != std::string::npos;
}

TEST(Sketch, namesEveryNumberAtTheTop) {
    const auto text = sketchText(test::demoProject());
    const auto top = text.substr(0, text.find("// ---- Outputs"));
    EXPECT_TRUE(contains(top, "START_RAIN_RUN"));
    EXPECT_TRUE(contains(top, "ms, "));
    EXPECT_TRUE(contains(top, "const uint8_t PIN_RAIN = 5;"));
    EXPECT_TRUE(contains(top, "BAUD = 250000"));
}

TEST(Sketch, neverWaits) {
    const auto text = sketchText(test::demoProject());
    EXPECT_FALSE(contains(text, "delay("));
    EXPECT_FALSE(contains(text, "while (1)"));
    EXPECT_FALSE(contains(text, "Serial.flush"));
}

TEST(Sketch, setsTheSafeStateBeforeAnythingElse) {
    const auto text = sketchText(test::demoProject());
    const auto setup = text.substr(text.find("void setup()"));
    EXPECT_LT(setup.find("digitalWrite(PIN_RAIN, LOW)"), setup.find("pinMode(PIN_RAIN, OUTPUT)"));
    EXPECT_LT(setup.find("pinMode(PIN_RAIN, OUTPUT)"), setup.find("Serial.begin"));
}

TEST(Sketch, saysWhichPlanMadeItAndChangesWithIt) {
    const auto a = sketchText(test::demoProject());
    const auto b = sketchText(test::edited(test::demoProject(), {{"channels/rain/demand/volume", "40 mL"}}));
    const auto mark = [](const std::string& text) { return text.substr(text.find("from plan "), 18); };
    EXPECT_NE(mark(a), mark(b));
    EXPECT_EQ(a, sketchText(test::demoProject())) << "the same plan, the same file";
}

TEST(Sketch, usesTheRegistersOfThePlan) {
    const auto text =
        sketchText(test::edited(test::demoProject(), {{"channels/rain/pin", "D9"}, {"channels/rain/signal/frequency", "25 kHz"}}));
    EXPECT_TRUE(contains(text, "ICR1 = ")) << "timer 1 with its own TOP";
    EXPECT_TRUE(contains(text, "OCR1A = "));
}

// Every line of code that the handbook's page walks through is in the sketch that it walks through, or in its gadget.h.
TEST(Sketch, isWhatTheHandbookReads) {
    const auto project = test::demoProject();
    const auto sketch = plan::sketchOf(project, plan::evaluate(project, test::shippedParts()));
    ASSERT_TRUE(sketch);
    std::string all = sketch->text;
    for (const auto& file : sketch->beside)
        if (file.name == "gadget.h") all += file.text;
    std::ifstream page(HINGE_SOURCE_DIR "/docs/handbook/reading-the-sketch.md");
    bool code = false;
    int lines = 0;
    for (std::string line; std::getline(page, line);) {
        if (line.starts_with("```")) {
            code = !code;
            continue;
        }
        if (!code) continue;
        ++lines;
        EXPECT_TRUE(contains("\n" + all, "\n" + line + "\n")) << line;
    }
    EXPECT_GE(lines, 20);
}
// The tables that nothing stands in are empty, and the runtime leaves out what the gadget has not.
TEST(Sketch, saysWhatTheGadgetHas) {
    const auto has = [](const project::Project& project) {
        const auto sketch = plan::sketchOf(project, plan::evaluate(project, test::shippedParts()));
        EXPECT_TRUE(sketch);
        std::map<std::string, int> switches;
        for (const auto& file : sketch->beside) {
            if (file.name != "gadget.h") continue;
            std::istringstream lines(file.text);
            for (std::string define, name; lines >> define;)
                if (int value = 0; define == "#define" && lines >> name >> value) switches[name] = value;
        }
        return switches;
    };
    const auto pump = has(test::demoProject()), stage = has(test::exampleProject("paper-moon-stage")),
               rider = has(test::exampleProject("tightrope-rider"));
    EXPECT_EQ(pump.at("SPARK_MOVES"), 0);
    EXPECT_EQ(pump.at("SPARK_TIMES"), 1) << "at 14:30";
    EXPECT_EQ(stage.at("SPARK_MOVES"), 1);
    EXPECT_EQ(stage.at("SPARK_LOOPS"), 1) << "the turntable holds its speed";
    EXPECT_EQ(stage.at("SPARK_ROLLS"), 0) << "it is no stepper";
    EXPECT_EQ(rider.at("SPARK_ROLLS"), 1);
    EXPECT_EQ(pump.size(), stage.size());
    // Every switch that the runtime asks for is there.
    for (const auto& [name, value] : pump) {
        std::ifstream in(HINGE_SOURCE_DIR "/core/firmware/runtime/spark_state.h");
        std::ostringstream text;
        text << in.rdbuf();
        EXPECT_TRUE(contains(text.str(), "#ifndef " + name + "\n")) << name;
    }
}

TEST(Sketch, waitsForAPinForEverything) {
    const auto project = test::edited(test::demoProject(), {{"inputs/start/pin", ""}});
    const auto sketch = plan::sketchOf(project, plan::evaluate(project, test::shippedParts()));
    ASSERT_FALSE(sketch);
    EXPECT_EQ(sketch.error().field, "inputs/start/pin");
}

TEST(Escapes, keepAnyNameInsideItsQuotes) {
    rc::check("printable, no bare quote, no line break", [](const std::string& name) {
        const auto safe = cString(name);
        for (std::size_t i = 0; i < safe.size(); ++i) {
            RC_ASSERT(safe[i] >= 32 && safe[i] < 127);
            if (safe[i] == '\\') ++i;
            else RC_ASSERT(safe[i] != '"');
        }
        for (const char c : comment(name)) RC_ASSERT(c >= 32 && c < 127 && c != '\\');
    });
}

}  // namespace
}  // namespace hinge::firmware
