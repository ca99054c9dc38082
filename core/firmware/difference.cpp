#include "firmware/difference.hpp"
#include <algorithm>
#include <cstdint>
#include <sstream>

namespace hinge::firmware {
namespace {

std::vector<std::string> linesOf(const std::string& text) {
    std::vector<std::string> lines;
    std::istringstream in(text);
    for (std::string line; std::getline(in, line);) {
        if (!line.empty() && line.back() == '\r') line.pop_back();
        if (line.starts_with("// Made by Hinge Spark from plan ") || line.find("mark[5] = {") != std::string::npos ||
            line.find("hello hinge-spark ") != std::string::npos)
            continue;
        lines.push_back(line);
    }
    return lines;
}

}  // namespace

std::vector<LineChange> difference(const std::string& before, const std::string& after) {
    const auto a = linesOf(before), b = linesOf(after);
    std::size_t head = 0, tail = 0;
    while (head < a.size() && head < b.size() && a[head] == b[head]) ++head;
    while (tail < a.size() - head && tail < b.size() - head && a[a.size() - 1 - tail] == b[b.size() - 1 - tail]) ++tail;
    const std::size_t n = a.size() - head - tail, m = b.size() - head - tail;
    std::vector<LineChange> changes;
    for (std::size_t i = 0; i < head; ++i) changes.push_back({LineFate::Same, a[i]});
    // Beyond some thousand lines on both sides the middle is taken as changed altogether.
    if (n * m > 25'000'000) {
        for (std::size_t i = 0; i < n; ++i) changes.push_back({LineFate::Gone, a[head + i]});
        for (std::size_t j = 0; j < m; ++j) changes.push_back({LineFate::New, b[head + j]});
    } else {
        std::vector<std::uint16_t> common((n + 1) * (m + 1), 0);
        const auto at = [&](std::size_t i, std::size_t j) -> std::uint16_t& { return common[i * (m + 1) + j]; };
        for (std::size_t i = n; i-- > 0;)
            for (std::size_t j = m; j-- > 0;)
                at(i, j) =
                    a[head + i] == b[head + j] ? static_cast<std::uint16_t>(at(i + 1, j + 1) + 1) : std::max(at(i + 1, j), at(i, j + 1));
        std::size_t i = 0, j = 0;
        while (i < n || j < m) {
            if (i < n && j < m && a[head + i] == b[head + j]) changes.push_back({LineFate::Same, a[head + i]}), ++i, ++j;
            else if (i < n && (j == m || at(i + 1, j) >= at(i, j + 1))) changes.push_back({LineFate::Gone, a[head + i++]});
            else changes.push_back({LineFate::New, b[head + j++]});
        }
    }
    for (std::size_t i = 0; i < tail; ++i) changes.push_back({LineFate::Same, a[a.size() - tail + i]});
    return changes;
}

std::vector<LineChange> shortened(const std::vector<LineChange>& changes, std::size_t around) {
    std::vector<bool> kept(changes.size(), false);
    for (std::size_t i = 0; i < changes.size(); ++i)
        if (changes[i].fate != LineFate::Same)
            for (std::size_t k = i > around ? i - around : 0; k <= i + around && k < changes.size(); ++k) kept[k] = true;
    std::vector<LineChange> out;
    for (std::size_t i = 0; i < changes.size(); ++i) {
        if (kept[i]) out.push_back(changes[i]);
        else if (i == 0 || kept[i - 1]) out.push_back({LineFate::Same, "…"});
    }
    return out;
}

int FileChange::count(LineFate fate) const {
    return static_cast<int>(std::count_if(lines.begin(), lines.end(), [&](const LineChange& line) { return line.fate == fate; }));
}

std::vector<FileChange> differences(const Sketch& before, const Sketch& after) {
    std::vector<FileChange> changed;
    const auto compare = [&](const std::string& name, const std::string& was, const std::string& is) {
        FileChange change{name, shortened(difference(was, is))};
        if (change.count(LineFate::Gone) + change.count(LineFate::New) > 0) changed.push_back(std::move(change));
    };
    const auto textOf = [](const Sketch& sketch, const std::string& name) {
        for (const auto& file : sketch.beside)
            if (file.name == name) return file.text;
        return std::string{};
    };
    compare(after.name + ".ino", before.text, after.text);
    for (const auto& file : after.beside) compare(file.name, textOf(before, file.name), file.text);
    for (const auto& file : before.beside)
        if (textOf(after, file.name).empty()) compare(file.name, file.text, "");
    return changed;
}

}  // namespace hinge::firmware
