#pragma once
#include <string>
#include <string_view>
#include <vector>

namespace hinge {
inline namespace quantity {

/// The fields of one line of a CSV; quotes hold what has commas in it, a doubled quote is one. A carriage return is left out.
[[nodiscard]] inline std::vector<std::string> csvFields(std::string_view line) {
    std::vector<std::string> fields{""};
    bool quoted = false;
    for (std::size_t i = 0; i < line.size(); ++i) {
        const char c = line[i];
        if (c == '"' && quoted && i + 1 < line.size() && line[i + 1] == '"') fields.back() += c, ++i;
        else if (c == '"') quoted = !quoted;
        else if (c == ',' && !quoted) fields.emplace_back();
        else if (c != '\r') fields.back() += c;
    }
    return fields;
}

/// A field as it stands in a line: in quotes where it holds a comma, a quote or a line break.
[[nodiscard]] inline std::string csvCell(const std::string& text) {
    if (text.find_first_of(",\"\n\r") == std::string::npos) return text;
    std::string out = "\"";
    for (const char c : text) out += c == '"' ? std::string{"\"\""} : std::string(1, c);
    return out + "\"";
}

}  // namespace quantity
}  // namespace hinge
