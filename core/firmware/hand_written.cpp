// What a hand wrote into a sketch, carried over into the one that is made anew.
#include <sstream>
#include "firmware/sketch.hpp"

namespace hinge::firmware {
namespace {

constexpr std::string_view opening = "// >>> yours: ", closing = "// <<<";
std::string trimmed(const std::string& line) {
    const auto from = line.find_first_not_of(" \t"), to = line.find_last_not_of(" \t\r");
    return from == std::string::npos ? std::string{} : line.substr(from, to - from + 1);
}

}  // namespace

std::string planMark(const Sketch& sketch) {
    constexpr std::string_view lead = "// Made by Hinge Spark from plan ";
    const auto at = sketch.text.find(lead);
    return at == std::string::npos ? std::string{} : sketch.text.substr(at + lead.size(), 8);
}

std::string withHandWritten(const std::string& fresh, const std::string& older) {
    std::vector<std::pair<std::string, std::string>> sections;
    std::istringstream old_lines(older);
    bool inside = false;
    for (std::string line; std::getline(old_lines, line);) {
        const auto text = trimmed(line);
        if (text.starts_with(opening)) sections.emplace_back(text.substr(opening.size()), ""), inside = true;
        else if (text == closing) inside = false;
        else if (inside) sections.back().second += line + "\n";
    }
    std::string out, lost;
    const auto take = [&](const std::string& name) -> std::string {
        for (auto section = sections.begin(); section != sections.end(); ++section) {
            if (section->first != name) continue;
            auto text = std::move(section->second);
            sections.erase(section);
            return text;
        }
        return {};
    };
    std::istringstream lines(fresh);
    std::size_t top = std::string::npos;
    for (std::string line; std::getline(lines, line);) {
        out += line + "\n";
        const auto text = trimmed(line);
        if (!text.starts_with(opening)) continue;
        out += take(text.substr(opening.size()));
        if (top == std::string::npos) top = out.size();
        while (std::getline(lines, line) && trimmed(line) != closing) {
        }
        out += line + "\n";
    }
    for (const auto& [name, text] : sections) {
        if (text.empty()) continue;
        lost += "// from '" + name + "', a place that there is no more:\n";
        std::istringstream left(text);
        for (std::string line; std::getline(left, line);) lost += "// " + line + "\n";
    }
    if (top != std::string::npos) out.insert(top, lost);
    return out;
}

}  // namespace hinge::firmware
