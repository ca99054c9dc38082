#include "firmware/habits.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cctype>
#include <map>
#include <optional>
#include <regex>
#include <set>
#include <sstream>

namespace hinge::firmware {
namespace {

// The source line by line, comments blanked; strings stay. A line is cut where a pattern would have too much to do.
std::vector<std::string> codeLines(const std::string& source) {
    constexpr std::size_t longest = 300;
    std::vector<std::string> lines{""};
    bool block = false, line_comment = false, string = false;
    for (std::size_t i = 0; i < source.size(); ++i) {
        const char c = source[i], next = i + 1 < source.size() ? source[i + 1] : '\0';
        if (c == '\n') {
            lines.emplace_back();
            line_comment = string = false;
            continue;
        }
        if (block) {
            if (c == '*' && next == '/') block = false, ++i;
            continue;
        }
        if (line_comment) continue;
        if (!string && c == '/' && next == '/') {
            line_comment = true;
            continue;
        }
        if (!string && c == '/' && next == '*') {
            block = true;
            ++i;
            continue;
        }
        if (c == '"' && (i == 0 || source[i - 1] != '\\')) string = !string;
        if (lines.back().size() < longest) lines.back() += c;
    }
    return lines;
}

// Names that functions run as interrupts write to, and where such a function ends.
struct Function {
    std::size_t from = 0, to = 0;  // lines
};
Function bodyFrom(const std::vector<std::string>& lines, std::size_t at) {
    int depth = 0;
    bool opened = false;
    for (std::size_t l = at; l < lines.size(); ++l) {
        for (const char c : lines[l]) {
            if (c == '{') ++depth, opened = true;
            if (c == '}') --depth;
        }
        if (opened && depth <= 0) return {at, l};
    }
    return {at, lines.size() - 1};
}

class Reader {
public:
    explicit Reader(const std::string& source) : lines_{codeLines(source)}, all_{source} {}

    std::vector<Habit> read() {
        functions();
        for (std::size_t l = 0; l < lines_.size(); ++l) line(l);
        interrupts();
        counts();
        std::stable_sort(found_.begin(), found_.end(), [](const Habit& a, const Habit& b) { return a.line < b.line; });
        return std::move(found_);
    }

private:
    void say(const char* id, std::size_t line, std::string why) {
        std::string text = lines_[line];
        text.erase(0, text.find_first_not_of(" \t") == std::string::npos ? 0 : text.find_first_not_of(" \t"));
        found_.push_back({id, static_cast<int>(line) + 1, text.substr(0, 80), std::move(why)});
    }

    void functions() {
        static const std::regex isr(R"(^\s*ISR\s*\(\s*(\w+))"), attach(R"(attachInterrupt\s*\([^;]*,\s*(\w+)\s*,)"),
            function(R"(^\s*(?:void|static void|void IRAM_ATTR)\s+(\w+)\s*\(\s*(?:void)?\s*\)\s*\{?)");
        std::set<std::string> attached;
        std::smatch match;
        for (const auto& text : lines_)
            if (std::regex_search(text, match, attach)) attached.insert(match[1]);
        for (std::size_t l = 0; l < lines_.size(); ++l) {
            if (std::regex_search(lines_[l], isr)) interrupts_.push_back(bodyFrom(lines_, l));
            if (!std::regex_search(lines_[l], match, function)) continue;
            if (attached.count(match[1]) > 0) interrupts_.push_back(bodyFrom(lines_, l));
            if (match[1] == "setup") setup_ = bodyFrom(lines_, l);
        }
    }
    [[nodiscard]] bool inInterrupt(std::size_t l) const {
        return std::any_of(interrupts_.begin(), interrupts_.end(), [&](const Function& f) { return l >= f.from && l <= f.to; });
    }
    [[nodiscard]] bool in(const std::optional<Function>& f, std::size_t l) const { return f && l >= f->from && l <= f->to; }

    void line(std::size_t l) {
        const std::string& text = lines_[l];
        static const std::regex delay(R"(\bdelay\s*\(\s*([^)]*)\))"),
            busy(R"(\bwhile\s*\(\s*!?\s*(?:digitalRead|Serial\.available|analogRead)[^;{]*\)\s*;?\s*(?:\{\s*\})?\s*$)"),
            level(R"(\bif\s*\(\s*!?\s*digitalRead\s*\()");
        static const std::regex set_clock(R"((\.adjust\s*\(|\bsetTime\s*\(|\.setDateTime\s*\(|\.setTime\s*\())"),
            rolls(R"((\bmillis|\bmicros)\s*\(\s*\)\s*[<>]=?\s*\w+\s*\+)"),
            narrow(R"(^\s*(?:static\s+)?(?:int|short|uint16_t|int16_t|unsigned int|byte|uint8_t)\s+\w+\s*=\s*(?:millis|micros)\s*\()");
        static const std::regex password(
            R"re("(admin|password|passwort|1234|12345|123456|12345678|letmein|default|secret|changeme|qwerty)")re");
        std::smatch match;
        if (inInterrupt(l)) {
            if (std::regex_search(text, delay) || text.find("Serial.print") != std::string::npos ||
                text.find("pulseIn") != std::string::npos)
                say("slow-interrupt", l,
                    "It waits inside an interrupt, where nothing else runs and the clock stands still. Set a flag there, and do the work "
                    "in loop().");
        } else if (std::regex_search(text, match, delay) && !in(setup_, l)) {
            say("blocks", l,
                "Nothing else happens while it waits: no button is seen, no end switch, no stop. Note the time instead and come back when "
                "it is over.");
        }
        if (std::regex_search(text, busy) && !in(setup_, l))
            say("blocks", l,
                "It waits for something that may never come, and nothing else runs until then. Ask once in each loop(), with a limit.");
        if (std::regex_search(text, level) && all_.find("last") == std::string::npos && all_.find("prev") == std::string::npos &&
            all_.find("old") == std::string::npos && all_.find("before") == std::string::npos)
            say("level-not-edge", l,
                "It acts for as long as the contact is closed, thousands of times a second, and a bounce acts again. Compare with the "
                "level before, and wait for it to last.");
        if (std::regex_search(text, set_clock) && in(setup_, l))
            say("sets-clock", l,
                "The clock is set anew at every reset, to the time of compiling or a fixed one. Set it once, then take this line out.");
        if (std::regex_search(text, rolls))
            say("rolls-over", l,
                "After 49.7 days (71.6 minutes with micros) the sum rolls over and the comparison is wrong. Write millis() - then >= "
                "time.");
        if (std::regex_search(text, narrow))
            say("narrow-time", l,
                "A time in milliseconds does not fit 16 bits: it starts again after 65 s, or turns negative after 33. Use unsigned long.");
        if (std::regex_search(text, match, password))
            say("known-password", l,
                "Everybody tries this word first. Choose one of eight letters or more, and not the name of anything near.");
    }

    // Variables that an interrupt writes and that were not declared volatile.
    void interrupts() {
        static const std::regex written(R"((?:^|[^\w.])(\w+)\s*(?:\[[^\]]*\]\s*)?(?:\+\+|--|[-+*/|&^]?=[^=]))"),
            incremented(R"((?:\+\+|--)\s*(\w+))"),
            declared(
                R"(^\s*(?:static\s+)?(volatile\s+)?(?:unsigned\s+|signed\s+)?(?:int|long|bool|boolean|byte|char|float|word|uint8_t|uint16_t|uint32_t|int8_t|int16_t|int32_t)\s+(?:long\s+|int\s+)?(volatile\s+)?(\w+)\s*(?:\[[^\]]*\])?\s*(?:=|;|,))");
        std::map<std::string, std::size_t> plain;
        int depth = 0;
        for (std::size_t l = 0; l < lines_.size(); ++l) {
            std::smatch match;
            if (depth == 0 && std::regex_search(lines_[l], match, declared) && !match[1].matched && !match[2].matched)
                plain.emplace(match[3], l);
            for (const char c : lines_[l]) depth += c == '{' ? 1 : c == '}' ? -1 : 0;
        }
        // What only interrupts use needs no volatile.
        const auto usedOutside = [&](const std::string& name, std::size_t declared_in) {
            for (std::size_t l = 0; l < lines_.size(); ++l) {
                if (l == declared_in || inInterrupt(l)) continue;
                const auto& text = lines_[l];
                const auto part = [](char c) { return c == '_' || std::isalnum(static_cast<unsigned char>(c)) != 0; };
                for (auto at = text.find(name); at != std::string::npos; at = text.find(name, at + 1))
                    if ((at == 0 || !part(text[at - 1])) && (at + name.size() >= text.size() || !part(text[at + name.size()]))) return true;
            }
            return false;
        };
        std::set<std::string> told;
        for (const auto& body : interrupts_)
            for (std::size_t l = body.from; l <= body.to; ++l)
                for (const auto* pattern : {&written, &incremented})
                    for (std::sregex_iterator at(lines_[l].begin(), lines_[l].end(), *pattern), end; at != end; ++at) {
                        const auto found = plain.find((*at)[1]);
                        if (found != plain.end() && usedOutside(found->first, found->second) && told.insert(found->first).second)
                            say("no-volatile", found->second,
                                fmt::format(
                                    "'{}' is changed in an interrupt: without volatile the compiler may keep its own copy, and loop() "
                                    "never sees the change. What is longer than a byte must also be read with interrupts off.",
                                    found->first));
                    }
    }

    // An array's own length against the number that loops over it.
    void counts() {
        static const std::regex array(R"(\b(\w+)\s*\[\s*(\w*)\s*\]\s*=\s*\{([^}]*)\})"),
            named(R"((?:#define\s+(\w+)\s+(\d+)\b|\b(?:const\s+)(?:int|byte|uint8_t|size_t)\s+(\w+)\s*=\s*(\d+)\s*;))"),
            over(R"(\bfor\s*\([^;]*;\s*(\w+)\s*<\s*(\w+)\s*;)");
        std::map<std::string, int> numbers;
        std::smatch match;
        for (const auto& text : lines_)
            if (std::regex_search(text, match, named))
                numbers[match[1].matched ? match[1] : match[3]] = std::atoi((match[1].matched ? match[2] : match[4]).str().c_str());
        const auto valueOf = [&](const std::string& word) -> std::optional<int> {
            if (!word.empty() && std::all_of(word.begin(), word.end(), [](char c) { return c >= '0' && c <= '9'; }) && word.size() < 6)
                return std::atoi(word.c_str());
            const auto found = numbers.find(word);
            return found != numbers.end() ? std::optional(found->second) : std::nullopt;
        };
        std::map<std::string, int> lengths;
        for (std::size_t l = 0; l < lines_.size(); ++l) {
            if (!std::regex_search(lines_[l], match, array)) continue;
            const std::string inside = match[3];
            const int entries =
                inside.find_first_not_of(" \t") == std::string::npos
                    ? 0
                    : static_cast<int>(std::count(inside.begin(), inside.end(), ',')) +
                          (inside.find_last_not_of(" \t") != std::string::npos && inside[inside.find_last_not_of(" \t")] == ',' ? 0 : 1);
            lengths[match[1]] = entries;
            if (const auto asked = valueOf(match[2]); asked && *asked != entries && entries > 0)
                say("count-disagrees", l,
                    fmt::format("'{}' has room for {} and lists {}: the rest is nought, or the last ones are never reached.",
                                match[1].str(), *asked, entries));
        }
        for (std::size_t l = 0; l < lines_.size(); ++l) {
            if (!std::regex_search(lines_[l], match, over)) continue;
            const auto times = valueOf(match[2]);
            if (!times) continue;
            const Function body = bodyFrom(lines_, l);
            for (const auto& [name, length] : lengths)
                for (std::size_t k = l; k <= std::min(body.to, l + 30); ++k)
                    if (lines_[k].find(name + "[" + match[1].str() + "]") != std::string::npos && *times != length && length > 0) {
                        say("count-disagrees", l, fmt::format("It goes round {} times over '{}', which lists {}.", *times, name, length));
                        k = body.to;
                    }
        }
    }

    std::vector<std::string> lines_;
    const std::string& all_;
    std::vector<Function> interrupts_;
    std::optional<Function> setup_;
    std::vector<Habit> found_;
};

}  // namespace

std::vector<Habit> habitsOf(const std::string& source) {
    constexpr std::size_t most = 500'000;
    const std::string read = source.substr(0, most);
    return Reader(read).read();
}

}  // namespace hinge::firmware
