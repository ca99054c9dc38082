#pragma once
#include <initializer_list>
#include <kainjow/mustache.hpp>
#include <string>
#include <utility>

namespace hinge::firmware {

/// A row of a list in the sketch's template, by its fields' names.
[[nodiscard]] inline kainjow::mustache::data item(std::initializer_list<std::pair<const char*, std::string>> fields) {
    kainjow::mustache::data data{kainjow::mustache::data::type::object};
    for (const auto& [name, value] : fields) data.set(name, value);
    return data;
}

}  // namespace hinge::firmware
