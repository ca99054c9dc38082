#include "capture/vcd_reader.hpp"
#include <fmt/format.h>
#include <charconv>
#include <cmath>
#include <unordered_map>

namespace hinge::capture {
namespace {

constexpr std::size_t most_signals = 1000;

// What an identifier code stands for: `width` signals from `first`, the highest bit first.
struct Variable {
    std::size_t first = 0;
    int width = 1;
    bool real = false;
};

// Codes are short runs of printable characters: those up to three are found by arithmetic.
class Codes {
public:
    void add(std::string_view code, const Variable& variable) {
        variables_.push_back(variable);
        const auto index = static_cast<std::int32_t>(variables_.size()) - 1;
        if (code.size() <= 3) {
            if (short_.empty()) short_.assign(95 * 95 * 95, -1);
            short_[key(code)] = index;
        } else {
            long_.emplace(std::string{code}, index);
        }
    }
    [[nodiscard]] const Variable* find(std::string_view code) const {
        std::int32_t index = -1;
        if (code.size() <= 3) index = short_.empty() || code.empty() ? -1 : short_[key(code)];
        else if (const auto found = long_.find(std::string{code}); found != long_.end()) index = found->second;
        return index < 0 ? nullptr : &variables_[static_cast<std::size_t>(index)];
    }

private:
    static std::size_t key(std::string_view code) {
        std::size_t k = 0;
        for (const char c : code) k = k * 95 + static_cast<std::size_t>(c < '!' || c > '~' ? 0 : c - '!' + 1);
        return k;
    }
    std::vector<std::int32_t> short_;
    std::unordered_map<std::string, std::int32_t> long_;
    std::vector<Variable> variables_;
};

int levelOf(char c) {
    return c == '0' ? 0 : c == '1' ? 1 : -1;
}

class Reader {
public:
    Reader(TextSource& text, const std::string& name, const Options& options)
        : text_{text}, name_{name}, options_{options}, gather_{options} {}

    Result<Capture> run() {
        if (const auto header = readHeader(); !header) return tl::unexpected(header.error());
        if (gather_.signals() == 0)
            return fail(ErrorCode::BadFormat, name_, "no $var before $enddefinitions", "a VCD file that names its lines");
        if (const auto body = readBody(); !body) return tl::unexpected(body.error());
        capture_.format = Format::Vcd;
        capture_.time_step = scale_;
        capture_.length = static_cast<double>(now_ - start_.value_or(now_)) * scale_;
        gather_.finish(capture_);
        return std::move(capture_);
    }

private:
    tl::unexpected<Error> bad(std::string what, std::string accepted) const {
        return fail(ErrorCode::BadFormat, fmt::format("{}, line {}", name_, text_.line() + 1), std::move(what), std::move(accepted));
    }

    // Tokens up to $end, joined.
    Result<std::string> section() {
        std::string words;
        for (;;) {
            const auto token = text_.token();
            if (token.empty()) return bad("the file ends inside a declaration", "a whole VCD file");
            if (token == "$end") return words;
            if (words.size() < 4096) words += (words.empty() ? "" : " ") + std::string{token};
        }
    }

    Result<void> readTimescale(const std::string& words) {
        std::string joined;
        for (const char c : words)
            if (c != ' ') joined += c;
        double number = 0.0;
        const auto [end, error] = std::from_chars(joined.data(), joined.data() + joined.size(), number);
        const std::string unit = joined.substr(static_cast<std::size_t>(end - joined.data()));
        constexpr std::pair<const char*, double> units[]{{"s", 1.0},   {"ms", 1e-3},  {"us", 1e-6},
                                                         {"ns", 1e-9}, {"ps", 1e-12}, {"fs", 1e-15}};
        for (const auto& [text, size] : units)
            if (unit == text && error == std::errc{} && (number == 1.0 || number == 10.0 || number == 100.0)) {
                scale_ = number * size;
                return {};
            }
        return bad(shown(words), "a time scale of 1, 10 or 100 and s, ms, us, ns, ps or fs");
    }

    Result<void> readVar(const std::string& words) {
        std::vector<std::string> part;
        for (std::size_t at = 0; at < words.size();) {
            const auto space = std::min(words.find(' ', at), words.size());
            part.push_back(words.substr(at, space - at));
            at = space + 1;
        }
        int width = 0;
        if (part.size() >= 4) std::from_chars(part[1].data(), part[1].data() + part[1].size(), width);
        if (width < 1 || width > 4096) return bad("$var " + shown(words), "$var type width code name $end");
        Variable variable;
        variable.real = part[0] == "real" || part[0] == "realtime";
        variable.first = gather_.signals();
        std::string name = part[3];
        for (std::size_t i = 4; i < part.size(); ++i) name += part[i];
        if (codes_.find(part[2]) != nullptr) {
            capture_.remarks.push_back(
                {"capture-alias", fmt::format("{} is another name of a line that is measured already.", shown(name))});
            return {};
        }
        if (!used_.emplace(name, 1).second) name = scope_.empty() ? name : scope_.back() + "." + name;
        variable.width = variable.real ? 1 : width;
        if (gather_.signals() + static_cast<std::size_t>(variable.width) > most_signals)
            return bad(fmt::format("more than {} lines", most_signals), "a capture of fewer lines");
        for (int bit = variable.width; bit-- > 0;) gather_.addSignal(variable.width == 1 ? name : fmt::format("{}.{}", name, bit));
        codes_.add(part[2], variable);
        return {};
    }

    Result<void> readHeader() {
        for (;;) {
            const auto token = text_.token();
            if (token.empty()) return bad("the file ends before $enddefinitions", "a whole VCD file");
            if (text_.binary()) return bad("bytes that are no text", "a VCD file");
            if (token.front() != '$') return bad(shown(token), "a declaration such as $timescale or $var");
            const std::string keyword{token};
            auto words = section();
            if (!words) return tl::unexpected(words.error());
            Result<void> done;
            if (keyword == "$timescale") done = readTimescale(*words);
            else if (keyword == "$var") done = readVar(*words);
            else if (keyword == "$scope") scope_.push_back(words->substr(std::min(words->size(), words->find(' ') + 1)));
            else if (keyword == "$upscope" && !scope_.empty()) scope_.pop_back();
            else if (keyword == "$enddefinitions") return {};
            if (!done) return done;
        }
    }

    Result<void> readBody() {
        std::uint64_t report_at = 1 << 20;
        double time = 0.0;
        for (;;) {
            const auto token = text_.token();
            if (token.empty()) return {};
            const char first = token.front();
            if (first == '#') {
                std::int64_t next = 0;
                const auto [end, error] = std::from_chars(token.data() + 1, token.data() + token.size(), next);
                if (error != std::errc{} || end != token.data() + token.size() || next < 0) return bad(shown(token), "# and a whole time");
                if (text_.cut() && start_ && next < now_) return cutHere();
                if (start_ && next < now_) return bad(fmt::format("time goes back from {} to {}", now_, next), "times that never go back");
                if (!start_) start_ = next;
                now_ = next;
                time = static_cast<double>(now_ - *start_) * scale_;
                if (text_.bytes() >= report_at) {
                    report_at = text_.bytes() + (1 << 20);
                    if (text_.binary()) return bad("bytes that are no text", "a VCD file");
                    if (options_.progress && !options_.progress(text_.bytes())) return fail(ErrorCode::Cancelled, name_, "", "");
                }
            } else if (first == '0' || first == '1' || first == 'x' || first == 'X' || first == 'z' || first == 'Z') {
                const auto* variable = codes_.find(token.substr(1));
                if (variable == nullptr) {
                    if (text_.cut()) return cutHere();
                    return bad(shown(token), "a level and the code of a declared line");
                }
                gather_.level(variable->first + static_cast<std::size_t>(variable->width) - 1, time, levelOf(first));
            } else if (first == 'b' || first == 'B' || first == 'r' || first == 'R') {
                const std::string value{token.substr(1)};
                const bool real = first == 'r' || first == 'R';
                const auto code = text_.token();
                const auto* variable = code.empty() ? nullptr : codes_.find(code);
                if (variable == nullptr) {
                    if (text_.cut() || code.empty()) return cutHere();
                    return bad(shown(code), "the code of a declared line");
                }
                if (real) {
                    double volts = 0.0;
                    const auto [end, error] = std::from_chars(value.data(), value.data() + value.size(), volts);
                    if (error != std::errc{} || end != value.data() + value.size() || !std::isfinite(volts))
                        return bad(shown(value), "a number");
                    gather_.volts(variable->first, time, volts);
                } else {
                    vector(*variable, value, time);
                }
            } else if (first == '$') {
                if (token == "$comment") {
                    if (auto skipped = section(); !skipped) return cutHere();
                } else if (token != "$end" && token != "$dumpvars" && token != "$dumpall" && token != "$dumpon" && token != "$dumpoff") {
                    if (text_.cut()) return cutHere();
                    return bad(shown(token), "a value change");
                }
            } else if (first == 's' || first == 'S') {
                text_.token();  // a string: nothing to measure
            } else {
                if (text_.binary()) return bad("bytes that are no text", "a VCD file");
                return bad(shown(token), "a time, a level or a value");
            }
        }
    }

    // Shorter values are filled up to the left: with 0 after 0 or 1, else with the same.
    void vector(const Variable& variable, const std::string& value, double time) {
        const auto width = static_cast<std::size_t>(variable.width);
        const char fill = value.empty() || value.front() == '1' ? '0' : value.front();
        for (std::size_t i = 0; i < width; ++i) {
            const std::size_t from_right = width - 1 - i;
            gather_.level(variable.first + i, time, levelOf(from_right < value.size() ? value[value.size() - 1 - from_right] : fill));
        }
    }

    Result<void> cutHere() {
        capture_.remarks.push_back(
            {"capture-cut", fmt::format("The file breaks off in line {}; what stands before it is measured.", text_.line() + 1)});
        return {};
    }

    TextSource& text_;
    const std::string& name_;
    const Options& options_;
    Gatherer gather_;
    Codes codes_;
    Capture capture_;
    std::vector<std::string> scope_;
    std::unordered_map<std::string, int> used_;
    double scale_ = 1e-9;  // where nothing is said
    std::int64_t now_ = 0;
    std::optional<std::int64_t> start_;
};

}  // namespace

Result<Capture> readVcd(TextSource& text, const std::string& name, const Options& options) {
    return Reader(text, name, options).run();
}

}  // namespace hinge::capture
