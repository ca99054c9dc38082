#include <rapidcheck.h>
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
