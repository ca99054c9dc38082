#include "store/migration.hpp"
#include <algorithm>
#include <nlohmann/json.hpp>
#include "project/project.hpp"

namespace hinge::store {
namespace {

using Json = nlohmann::ordered_json;

// Format 1 told the way of a contact in `active_high`, and that of a reading in `below`, where it ignored `active_high`. In format 2 one
// field tells both, and absent it is as usual for the kind: a contact to ground is true while low, a reading while high.
void onePolarity(Json& json) {
    const auto inputs = json.find("inputs");
    if (inputs == json.end() || !inputs->is_array()) return;
    for (auto& input : *inputs) {
        if (!input.is_object()) continue;
        const std::string kind = input.value("kind", std::string{});
        const bool reading = kind == "knob" || kind == "level" || kind == "tach" || kind == "number";
        const auto flag = [&](const char* name) { return input.contains(name) && !input[name].is_null() && input[name].get<bool>(); };
        const bool below = flag("below"), high = flag("active_high");
        input.erase("below");
        input.erase("active_high");
        if (reading && below) input["active_high"] = false;
        if (!reading && high) input["active_high"] = true;
    }
}

// Format 2 let a channel have a pin for its tach, which nothing read. In format 3 that is an input, true while the channel is on and stands
// still; where one on that pin was there already, it now belongs to the channel.
void tachsAreInputs(Json& json) {
    const auto channels = json.find("channels");
    if (channels == json.end() || !channels->is_array()) return;
    for (auto& channel : *channels) {
        if (!channel.is_object()) continue;
        const std::string pin = channel.value("tach_pin", std::string{}), id = channel.value("id", std::string{});
        channel.erase("tach_pin");
        if (pin.empty() || id.empty()) continue;
        auto& inputs = json["inputs"];
        if (inputs.is_null()) inputs = Json::array();
        if (!inputs.is_array()) continue;
        std::vector<std::string> taken;
        bool there = false;
        for (auto& input : inputs) {
            if (!input.is_object()) continue;
            taken.push_back(input.value("id", std::string{}));
            if (there || input.value("kind", std::string{}) != "tach" || input.value("pin", std::string{}) != pin) continue;
            input["belongs_to"] = id;
            there = true;
        }
        if (there) continue;
        const std::string name = channel.value("name", id) + " stands still";
        inputs.push_back(Json{{"id", project::freshId(name, taken)},
                              {"name", name},
                              {"kind", "tach"},
                              {"pin", pin},
                              {"active_high", false},
                              {"upper", 0.02},
                              {"lower", 0.01},
                              {"belongs_to", id}});
    }
}

constexpr Migration shipped[] = {{1, onePolarity}, {2, tachsAreInputs}};

}  // namespace

std::span<const Migration> shippedMigrations() {
    return shipped;
}

Result<int> lift(Json& json, const std::string& field, std::span<const Migration> migrations) {
    if (!json.is_object() || !json.contains("format") || !json["format"].is_number_integer())
        return fail(ErrorCode::BadFormat, field, "", "a project file: an object with a whole-number \"format\"");
    const auto format = json["format"].get<long long>();
    if (format > project::format)
        return fail(ErrorCode::NewerFormat, field, std::to_string(format), "open it with the version that wrote it; nothing was changed");
    for (auto at = format; at < project::format; ++at) {
        const auto step = std::find_if(migrations.begin(), migrations.end(), [&](const Migration& m) { return m.from == at; });
        if (step == migrations.end())
            return fail(ErrorCode::BadFormat, field + ": format", std::to_string(format), "format " + std::to_string(project::format));
        try {
            step->lift(json);
        } catch (const Json::exception& error) {
            return fail(ErrorCode::BadFormat, field, "format " + std::to_string(format), error.what());
        }
    }
    json["format"] = project::format;
    return static_cast<int>(format);
}

}  // namespace hinge::store
