// Corrupted files: cut at every 97th byte, bits flipped, types swapped. Nothing may crash or hang,
// and what is refused is refused with a place.
#include <random>
#include "catalogue/catalogue.hpp"
#include "plan/plan.hpp"
#include "simulation/simulate.hpp"
#include "store/json.hpp"
#include "support/demo.hpp"

namespace hinge {
namespace {

std::string demoText() {
    auto text = files::readWhole(HINGE_SOURCE_DIR "/tests/projects/rain-alone/project.json");
    EXPECT_TRUE(text);
    return *text;
}
// Whatever opens must also evaluate.
void tryProject(const std::string& text, const project::Parts& parts) {
    const auto document = store::fromText(text, "f");
    if (document) static_cast<void>(plan::evaluate(document->project, parts));
    else EXPECT_FALSE(document.error().field.empty());
}

TEST(DamagedProject, cutAtEveryNinetySeventhByteIsRefused) {
    const std::string text = demoText();
    for (std::size_t at = 0; at + 3 < text.size(); at += 97) {
        const auto document = store::fromText(text.substr(0, at), "f");
        ASSERT_FALSE(document) << at;
        EXPECT_EQ(document.error().code, ErrorCode::BadFormat);
    }
}

TEST(DamagedProject, withBitsFlippedIsRefusedOrStillSound) {
    const std::string text = demoText();
    const auto parts = test::shippedParts();
    std::mt19937 random(20261125);
    for (int i = 0; i < 1500; ++i) {
        std::string damaged = text;
        for (int n = 0; n < 1 + i % 3; ++n) damaged[random() % damaged.size()] ^= static_cast<char>(1 << random() % 8);
        tryProject(damaged, parts);
    }
}

TEST(DamagedProject, withTypesSwappedIsRefusedByItsPath) {
    const auto parts = test::shippedParts();
    const store::Json whole = store::Json::parse(demoText());
    const store::Json swaps[] = {nullptr,
                                 true,
                                 -1,
                                 1e300,
                                 "text",
                                 store::Json::array(),
                                 store::Json::array({1}),
                                 store::Json::object(),
                                 "\xF0\x9F\x8C\x99",
                                 std::string(30000, 'x')};
    for (const auto& path : {"/brief", "/brief/ambient", "/sources", "/sources/0", "/sources/0/voltage", "/rails/0/from",
                             "/rails/0/wire_area", "/board/form", "/channels/0/demand", "/channels/0/demand/lift",
                             "/channels/0/signal/duty", "/channels/0/drive/gate_resistor", "/inputs/0/debounce", "/routine/cues",
                             "/routine/cues/0/moves/0/time", "/routine/interlocks/0/input", "/proof", "/journal/entries/0/cost", "/format"})
        for (const auto& swap : swaps) {
            store::Json changed = whole;
            changed[store::Json::json_pointer(path)] = swap;
            tryProject(changed.dump(-1, ' ', false, store::Json::error_handler_t::replace), parts);
        }
}

TEST(DamagedProject, hugeListsAreAnswered) {
    store::Json whole = store::Json::parse(demoText());
    store::Json channel = whole["channels"][0];
    whole["channels"] = store::Json::array();
    for (int i = 0; i < 10001; ++i) {
        channel["id"] = "c" + std::to_string(i);
        whole["channels"].push_back(channel);
    }
    const auto document = store::fromText(whole.dump(), "f");
    ASSERT_FALSE(document);
    EXPECT_EQ(document.error().field, "f: channels");
}

// Fifty thousand fields in one object took half a minute, for each is looked for among those before it.
TEST(DamagedProject, anObjectOfFieldsWithoutEndIsRefused) {
    store::Json whole = store::Json::parse(demoText());
    for (int i = 0; i < 200; ++i) whole["field" + std::to_string(i)] = "a: {b}, [c]";
    EXPECT_TRUE(store::fromText(whole.dump(), "f")) << "of a later version, say";
    std::string many = "{";
    for (int i = 0; i < 50'000; ++i) many += "\"field" + std::to_string(i) + "\":1,";
    for (const auto& text : {many + whole.dump().substr(1), "{\"in\":" + many + "\"z\":[]}," + whole.dump().substr(1)}) {
        const auto document = store::fromText(text, "f");
        ASSERT_FALSE(document);
        EXPECT_NE(sentence(document.error()).find("at most 256 fields in one object"), std::string::npos);
    }
}

TEST(DamagedCatalogue, anyCutOrFlipIsAnswered) {
    const auto text = files::readWhole(HINGE_SOURCE_DIR "/parts/pumps.csv");
    ASSERT_TRUE(text);
    for (std::size_t at = 0; at < text->size(); at += 97) static_cast<void>(catalogue::read("pumps", text->substr(0, at), "f"));
    std::mt19937 random(7);
    for (int i = 0; i < 1500; ++i) {
        std::string damaged = *text;
        for (int n = 0; n < 3; ++n) damaged[random() % damaged.size()] = static_cast<char>(random() % 256);
        static_cast<void>(catalogue::read("pumps", damaged, "f"));
    }
}

TEST(DamagedEvents, anyBytesAreAnswered) {
    std::mt19937 random(3);
    for (int i = 0; i < 2000; ++i) {
        std::string bytes;
        for (auto n = random() % 200; n > 0; --n) bytes += static_cast<char>(random() % 256);
        static_cast<void>(simulation::parseEvents(bytes));
    }
}

}  // namespace
}  // namespace hinge
