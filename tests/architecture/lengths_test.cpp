// A function fits a screen, a file can be read at a sitting, and nothing of some length is written twice.
#include <gtest/gtest.h>
#include <filesystem>
#include <fstream>
#include <map>
#include <regex>
#include <sstream>

namespace hinge {
namespace {

namespace fs = std::filesystem;
constexpr int longest_file = 500, longest_function = 80;
constexpr std::size_t most_equal = 5;

struct Source {
    std::string name;
    std::string text;
};
std::vector<Source> sources() {
    std::vector<Source> list;
    for (const char* room : {"core", "app", "cli", "guest", "tests", "benchmarks"})
        for (const auto& entry : fs::recursive_directory_iterator(fs::path{HINGE_SOURCE_DIR} / room)) {
            const auto kind = entry.path().extension();
            if (kind != ".cpp" && kind != ".hpp" && kind != ".h") continue;
            std::ifstream in(entry.path());
            std::ostringstream text;
            text << in.rdbuf();
            list.push_back({fs::relative(entry.path(), HINGE_SOURCE_DIR).string(), text.str()});
        }
    return list;
}
std::vector<std::string> linesOf(const std::string& text) {
    std::vector<std::string> lines;
    std::istringstream in(text);
    for (std::string line; std::getline(in, line);) lines.push_back(line);
    return lines;
}

// The same text without what stands in comments, between quotation marks and for the preprocessor, line for line.
std::string bare(const std::string& text) {
    std::string out;
    const auto skip = [&](std::size_t from, std::size_t to) { out.append(std::count(text.begin() + from, text.begin() + to, '\n'), '\n'); };
    for (std::size_t i = 0; i < text.size();) {
        std::size_t end = 0;
        if (text[i] == '#' && (i == 0 || text[i - 1] == '\n')) end = std::min(text.find('\n', i), text.size());
        else if (text.compare(i, 2, "//") == 0) end = std::min(text.find('\n', i), text.size());
        else if (text.compare(i, 2, "/*") == 0) end = std::min(text.find("*/", i), text.size() - 2) + 2;
        else if (text.compare(i, 2, "R\"") == 0) {
            const auto open = text.find('(', i);
            const std::string close = ")" + text.substr(i + 2, open - i - 2) + "\"";
            end = std::min(text.find(close, open), text.size()) + close.size();
        } else if (text[i] == '"' || (text[i] == '\'' && (i == 0 || std::isalnum(static_cast<unsigned char>(text[i - 1])) == 0))) {
            end = i + 1;
            while (end < text.size() && text[end] != text[i] && text[end] != '\n') end += text[end] == '\\' ? 2 : 1;
            ++end;
        }
        if (end == 0) out += text[i++];
        else skip(i, std::min(end, text.size())), i = std::min(end, text.size());
    }
    return out;
}

struct Function {
    int line = 0;    ///< at which its head begins
    int length = 0;  ///< lines from there to its last brace
};
// Bodies that stand in nothing but namespaces and classes.
std::vector<Function> functionsOf(const std::string& text) {
    struct Block {
        bool scope, function;
        int head;
    };
    static const std::regex scope(R"(\b(namespace|class|struct|union|enum|extern)\b)");
    std::vector<Function> list;
    std::vector<Block> blocks;
    std::string head;
    int line = 1, begins = 1;
    for (const char c : bare(text)) {
        if (c == '\n') ++line;
        if (head.find_first_not_of(" \n") == std::string::npos) begins = line;
        if (c == '{') {
            const bool outside = std::all_of(blocks.begin(), blocks.end(), [](const Block& block) { return block.scope; });
            const bool called = head.find(')') != std::string::npos;
            const bool names = std::regex_search(head, scope) && !called;
            blocks.push_back({names, outside && !names && called && head.find_last_not_of(" \n") != head.rfind('='), begins});
        } else if (c == '}' && !blocks.empty()) {
            if (blocks.back().function) list.push_back({blocks.back().head, line - blocks.back().head + 1});
            blocks.pop_back();
        }
        if (c == '{' || c == '}' || c == ';') head.clear();
        else head += c;
    }
    return list;
}

TEST(Lengths, ofFilesAreBounded) {
    for (const auto& source : sources()) EXPECT_LE(linesOf(source.text).size(), static_cast<std::size_t>(longest_file)) << source.name;
}

TEST(Lengths, ofFunctionsAreBoundedOrTheReasonStandsAbove) {
    std::size_t seen = 0;
    for (const auto& source : sources()) {
        const auto lines = linesOf(source.text);
        for (const auto& function : functionsOf(source.text)) {
            ++seen;
            if (function.length <= longest_function) continue;
            const auto& above = lines[static_cast<std::size_t>(std::max(0, function.line - 2))];
            EXPECT_TRUE(above.starts_with("//")) << source.name << ":" << function.line << " has " << function.length << " lines";
        }
    }
    EXPECT_GT(seen, 4000U) << "functions were found at all";
}

TEST(Lengths, areCounted) {
    const auto found = functionsOf(
        "namespace a {\nstruct S {\n  int f() {\n    if (1) {\n    }\n  }\n};\n// {{{\nint g(\n  int x) {\n  const char* s = \"}\";\n}\n"
        "const int list[] = {\n  1};\n}\n");
    ASSERT_EQ(found.size(), 2U);
    EXPECT_EQ(found[0].line, 3);
    EXPECT_EQ(found[0].length, 4);
    EXPECT_EQ(found[1].line, 9);
    EXPECT_EQ(found[1].length, 4);
}

// Rows of a list repeat nothing: a field that is given (`.of = x,`), one word.
std::vector<std::pair<int, std::string>> countedLines(const std::string& text) {
    static const std::regex row(R"(\.\w+ = .*,|[\w:]+,)");
    std::vector<std::pair<int, std::string>> list;
    static int rows = 0;
    int number = 0;
    for (const auto& line : linesOf(text)) {
        ++number;
        const auto from = line.find_first_not_of(' ');
        if (from == std::string::npos) continue;
        auto trimmed = line.substr(from);
        if (trimmed.starts_with("//") || trimmed.starts_with("#include")) continue;
        if (std::regex_match(trimmed, row)) trimmed = std::to_string(++rows);
        list.emplace_back(number, std::move(trimmed));
    }
    return list;
}

TEST(Lengths, nothingOfSixLinesIsWrittenTwice) {
    std::map<std::string, std::string> seen;
    for (const auto& source : sources()) {
        const auto lines = countedLines(source.text);
        std::size_t free = 0;  // a stretch that overlaps with itself is no repetition
        for (std::size_t i = 0; i + most_equal < lines.size(); ++i) {
            std::string stretch;
            for (std::size_t k = 0; k <= most_equal; ++k) stretch += lines[i + k].second + "\n";
            const auto place = source.name + ":" + std::to_string(lines[i].first);
            const auto [first, fresh] = seen.emplace(stretch, place);
            if (fresh || i < free) continue;
            free = i + most_equal + 1;
            ADD_FAILURE() << place << " repeats " << first->second << ":\n" << stretch;
        }
    }
    EXPECT_GT(seen.size(), 40'000U) << "lines were read at all";
}

}  // namespace
}  // namespace hinge
