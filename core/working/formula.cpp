#include "working/formula.hpp"
#include <algorithm>
#include <array>
#include <cctype>

namespace hinge {
namespace {

using As = Math::Kind;
using Letters = std::vector<std::string_view>;

// The line, letter by letter: what is not UTF-8 is taken byte by byte.
Letters lettersOf(std::string_view line) {
    Letters letters;
    while (!line.empty()) {
        const auto lead = static_cast<unsigned char>(line.front());
        std::size_t size = lead < 0x80 ? 1 : lead >> 5 == 6 ? 2 : lead >> 4 == 14 ? 3 : lead >> 3 == 30 ? 4 : 1;
        size = std::min(size, line.size());
        letters.push_back(line.substr(0, size));
        line.remove_prefix(size);
    }
    return letters;
}

bool isDigit(std::string_view letter) {
    return letter.size() == 1 && std::isdigit(static_cast<unsigned char>(letter.front())) != 0;
}
constexpr std::array operators{"+", "−", "-", "·", "×", "/", "=", "≤", "≥", "≈", "<", ">", ",", ";", "(", ")", "|", "⌊",
                               "⌋", "⌈", "⌉", "^", "√", " ", ".", ":", "°", "%", "[", "]", "…", "→", "±", "'", "\""};
constexpr std::array<std::pair<const char*, const char*>, 12> raised{{{"⁰", "0"},
                                                                      {"¹", "1"},
                                                                      {"²", "2"},
                                                                      {"³", "3"},
                                                                      {"⁴", "4"},
                                                                      {"⁵", "5"},
                                                                      {"⁶", "6"},
                                                                      {"⁷", "7"},
                                                                      {"⁸", "8"},
                                                                      {"⁹", "9"},
                                                                      {"⁻", "−"},
                                                                      {"¼", "1/4"}}};
const char* raisedTo(std::string_view letter) {
    for (const auto& [up, plain] : raised)
        if (letter == up) return plain;
    return nullptr;
}
bool isLetter(std::string_view letter) {
    if (letter.size() == 1 && std::isalpha(static_cast<unsigned char>(letter.front())) != 0) return true;
    return letter.size() > 1 && raisedTo(letter) == nullptr &&
           std::none_of(operators.begin(), operators.end(), [&](const char* each) { return letter == each; });
}
bool isFunction(std::string_view word) {
    constexpr std::array known{"sin", "cos", "tan", "asin", "acos", "atan", "ln", "log", "log2", "log10", "round", "max", "min"};
    return std::any_of(known.begin(), known.end(), [&](const char* each) { return word == each; });
}

// Small letters that are a word, not a letter with an index: "clk" and "rate", but not "ton" and "hmax".
bool isPlainWord(std::string_view word) {
    constexpr std::array indices{"on", "off", "max", "min", "ref", "in", "out"};
    if (word.size() < 3 || !std::all_of(word.begin(), word.end(), [](char c) { return c >= 'a' && c <= 'z'; })) return false;
    return std::none_of(indices.begin(), indices.end(), [&](const char* each) { return word.substr(1) == each; });
}

class Reader {
public:
    explicit Reader(std::string_view line) : letters_{lettersOf(line)} {}
    Math row(std::string_view until) {
        Math made{As::Row, {}, {}};
        while (at_ < letters_.size() && letters_[at_] != until) {
            if (opensFactor()) made.parts.push_back(product());
            else made.parts.push_back({As::Word, std::string{letters_[at_++]}, {}});
        }
        return made;
    }

private:
    [[nodiscard]] std::string_view now(std::size_t ahead = 0) const {
        return at_ + ahead < letters_.size() ? letters_[at_ + ahead] : std::string_view{};
    }
    [[nodiscard]] bool opensFactor() const {
        const auto c = now();
        if (c == "(" || c == "|" || c == "⌊" || c == "⌈") return closes(c);
        return c == "√" || isDigit(c) || isLetter(c);
    }
    // Whether a bracket is closed again.
    [[nodiscard]] bool closes(std::string_view open) const {
        int depth = 0;
        for (std::size_t i = at_; i < letters_.size(); ++i) {
            if (open == "|" && i > at_ && letters_[i] == "|") return true;
            if (open == "|") continue;
            if (letters_[i] == open) ++depth;
            if (letters_[i] == closing(open) && --depth == 0) return true;
        }
        return false;
    }
    Math product() {
        Math left{As::Row, {}, {}};
        left.parts.push_back(factor());
        for (;;) {
            const auto c = now();
            if (c != "·" && c != "/") break;
            ++at_;
            if (!opensFactor()) {
                --at_;
                break;
            }
            if (c == "·") {
                left.parts.push_back({As::Word, "·", {}});
                left.parts.push_back(factor());
                continue;
            }
            Math over{As::Fraction, {}, {}};
            Math upper = left.parts.size() == 1 ? std::move(left.parts.front()) : std::move(left);
            over.parts.push_back(std::move(upper));
            over.parts.push_back(factor());
            left = Math{As::Row, {}, {}};
            left.parts.push_back(std::move(over));
        }
        if (left.parts.size() != 1) return left;
        Math only = std::move(left.parts.front());
        return only;
    }
    Math factor() {
        Math made = primary();
        for (;;) {
            std::string how, plain;
            while (raisedTo(now()) != nullptr) how += now(), plain += raisedTo(now()), ++at_;
            if (!how.empty()) {
                made = Math{As::Power, how, {std::move(made), {As::Number, plain, {}}}};
                continue;
            }
            if (now() != "^") return made;
            ++at_;
            if (!opensFactor()) {
                --at_;
                return made;
            }
            made = Math{As::Power, "^", {std::move(made), primary()}};
        }
    }
    Math primary() {
        const auto c = now();
        if (c == "√") {
            ++at_;
            if (!opensFactor()) return {As::Word, "√", {}};
            return {As::Root, {}, {primary()}};
        }
        if (c == "(" || c == "|" || c == "⌊" || c == "⌈") {
            ++at_;
            Math inside = row(closing(c));
            // What closes it may have gone to another bracket inside.
            if (at_ == letters_.size()) return {As::Row, {}, {{As::Word, std::string{c}, {}}, std::move(inside)}};
            ++at_;
            return {As::Fence, std::string{c}, {std::move(inside)}};
        }
        if (isDigit(c)) return number();
        return word();
    }
    Math number() {
        std::string digits;
        while (isDigit(now()) || (now() == "." && isDigit(now(1)))) digits += now(), ++at_;
        Math made{As::Number, digits, {}};
        // A figure with its power of ten is one number: 3/1.6·10⁷ is 3 over all of it.
        if (now() != "·" || now(1) != "1" || now(2) != "0" || raisedTo(now(3)) == nullptr) return made;
        at_ += 3;
        std::string how, plain;
        while (raisedTo(now()) != nullptr) how += now(), plain += raisedTo(now()), ++at_;
        Math ten{As::Power, how, {{As::Number, "10", {}}, {As::Number, plain, {}}}};
        return {As::Row, {}, {std::move(made), {As::Word, "·", {}}, std::move(ten)}};
    }
    Math word() {
        const bool unit = at_ >= 2 && letters_[at_ - 1] == " " && isDigit(letters_[at_ - 2]);
        std::string letters;
        while (isLetter(now()) || (!letters.empty() && isDigit(now()))) letters += now(), ++at_;
        const auto count = lettersOf(letters).size();
        if (isFunction(letters) && now() == "(" && closes("(")) {
            Math made{As::Row, {}, {{As::Word, letters, {}}}};
            made.parts.push_back(primary());
            return made;
        }
        const bool plain = unit || isFunction(letters) || count > 4 || isPlainWord(letters);
        return {plain ? As::Word : As::Symbol, letters, {}};
    }
    Letters letters_;
    std::size_t at_ = 0;
};

std::string safe(std::string_view text) {
    std::string made;
    for (const char c : text) {
        if (c == '&') made += "&amp;";
        else if (c == '<') made += "&lt;";
        else if (c == '>') made += "&gt;";
        else if (c == '"') made += "&quot;";
        else if (static_cast<unsigned char>(c) >= 0x20) made += c;
    }
    return made;
}

std::string element(const char* name, const std::string& inside) {
    return std::string{"<"} + name + ">" + inside + "</" + name + ">";
}
std::string rowOf(const Math& math);

std::string marked(const Math& math) {
    switch (math.kind) {
        case As::Row: return rowOf(math);
        case As::Word: {
            if (math.text == " ") return "<mspace width=\"0.25em\"/>";
            const auto letters = lettersOf(math.text);
            return element(letters.size() == 1 && !isLetter(letters.front()) ? "mo" : "mtext", safe(math.text));
        }
        case As::Symbol: {
            const auto [letter, index] = splitSymbol(math.text);
            return index.empty() ? element("mi", safe(letter)) : element("msub", element("mi", safe(letter)) + element("mi", safe(index)));
        }
        case As::Number: return element("mn", safe(math.text));
        case As::Fraction: return element("mfrac", rowOf(bare(math.parts[0])) + rowOf(bare(math.parts[1])));
        case As::Root: return element("msqrt", rowOf(bare(math.parts[0])));
        case As::Power: return element("msup", rowOf(math.parts[0]) + rowOf(bare(math.parts[1])));
        case As::Fence:
            return element("mrow", element("mo", safe(math.text)) + rowOf(math.parts[0]) + element("mo", safe(closing(math.text))));
    }
    return {};
}
std::string rowOf(const Math& math) {
    if (math.kind != As::Row) return marked(math);
    std::string inside;
    for (const auto& part : math.parts) inside += marked(part);
    return element("mrow", inside);
}

}  // namespace

std::string_view closing(std::string_view opening) {
    return opening == "(" ? ")" : opening == "⌊" ? "⌋" : opening == "⌈" ? "⌉" : "|";
}

Math parseFormula(std::string_view line) {
    return Reader(line).row("\n");
}

std::string inLine(const Math& math) {
    std::string made;
    switch (math.kind) {
        case As::Row:
            for (const auto& part : math.parts) made += inLine(part);
            return made;
        case As::Fraction: return inLine(math.parts[0]) + "/" + inLine(math.parts[1]);
        case As::Root: return "√" + inLine(math.parts[0]);
        case As::Power: return inLine(math.parts[0]) + math.text + (math.text == "^" ? inLine(math.parts[1]) : "");
        case As::Fence: return math.text + inLine(math.parts[0]) + std::string{closing(math.text)};
        default: return math.text;
    }
}

const Math& bare(const Math& math) {
    return math.kind == As::Fence && math.text == "(" ? math.parts[0] : math;
}

Symbol splitSymbol(std::string_view text) {
    const auto letters = lettersOf(text);
    const bool named = text == "Re" || (letters.size() > 1 && std::all_of(letters.begin(), letters.end(), [](std::string_view c) {
                                            return c.size() == 1 && (std::isupper(static_cast<unsigned char>(c.front())) != 0);
                                        }));
    if (letters.size() < 2 || named) return {std::string{text}, {}};
    // A prime belongs to its letter; a difference to what differs.
    std::size_t first = letters.front().size();
    if (letters[0] == "Δ" || letters[1] == "′") first += letters[1].size();
    return {std::string{text.substr(0, first)}, std::string{text.substr(first)}};
}

std::string mathMl(const Math& math) {
    return "<math aria-label=\"" + safe(inLine(math)) + "\">" + rowOf(math) + "</math>";
}

}  // namespace hinge
