#pragma once
// What the command line answers, and whether it fits its schema.
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
#include "store/document.hpp"
#include "support/folder.hpp"
#include "support/program.hpp"

namespace hinge {
namespace terminal {

using nlohmann::json;
inline const std::string demo = HINGE_SOURCE_DIR "/tests/projects/rain-alone";

struct Said {
    int status;
    std::string out, err;
};
inline Said cli(const std::string& arguments) {
    test::TemporaryFolder folder;
    const std::string errors = (folder.path() / "err").string();
    const auto outcome = test::run(std::string{HINGE_CLI} + " " + arguments + " 2> " + errors);
    return {outcome.status, outcome.out, files::readWhole(errors).value_or("")};
}

// Every verb that prints, into a device that is always full.
inline void expectValid(const std::string& name, const json& document) {
    const auto text = files::readWhole(std::string{HINGE_SOURCE_DIR "/docs/schemas/"} + name + ".json");
    ASSERT_TRUE(text) << name;
    const json schema_json = json::parse(*text);
    valijson::Schema schema;
    valijson::SchemaParser().populateSchema(valijson::adapters::NlohmannJsonAdapter(schema_json), schema);
    valijson::ValidationResults problems;
    valijson::Validator().validate(schema, valijson::adapters::NlohmannJsonAdapter(document), &problems);
    for (valijson::ValidationResults::Error problem; problems.popError(problem);) ADD_FAILURE() << name << ": " << problem.description;
}
inline void expectValid(const std::string& name, const Said& said) {
    ASSERT_TRUE(said.err.empty()) << said.err;
    ASSERT_TRUE(json::accept(said.out)) << said.out.substr(0, 200);
    expectValid(name, json::parse(said.out));
}

inline const char* const examples[] = {HINGE_SOURCE_DIR "/demos/paper-moon-stage", HINGE_SOURCE_DIR "/demos/proofing-box",
                                       HINGE_SOURCE_DIR "/demos/tightrope-rider", HINGE_SOURCE_DIR "/tests/projects/rain-alone"};

}  // namespace terminal
}  // namespace hinge
