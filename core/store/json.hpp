#pragma once
#include <nlohmann/json.hpp>
#include <string>
#include "project/project.hpp"
#include "quantity/result.hpp"

namespace hinge::store {

using Json = nlohmann::ordered_json;

/// The project as JSON, fields in the order of their description; quantities as "0.45 m".
[[nodiscard]] Json toJson(const project::Project& project);
/// A project from JSON of the current format. Fields that are absent keep their defaults; fields
/// that nobody knows are ignored here (Document keeps them).
/// @error BadFormat, NotANumber, WrongUnit, OutOfRange  naming the path
[[nodiscard]] Result<project::Project> fromJson(const Json& json);
/// The JSON Schema (draft-07) of the project file, made from the same description.
[[nodiscard]] Json projectSchema();

/// Text to JSON, with limits on size and depth.
/// @error BadFormat  naming the line
[[nodiscard]] Result<Json> parseJson(const std::string& text, const std::string& field);

}  // namespace hinge::store
