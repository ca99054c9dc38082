#include "working/worked.hpp"
#include <array>
#include <cstdlib>
#include "quantity/text.hpp"
#include "quantity/units.hpp"

namespace hinge {
inline namespace working {

std::string_view word(Verdict verdict) {
    switch (verdict) {
        case Verdict::Holds: return "holds";
        case Verdict::Tight: return "tight";
        case Verdict::Breaks: return "breaks";
        case Verdict::Unknown: return "unknown";
    }
    return "unknown";
}

std::string_view word(Severity severity) {
    switch (severity) {
        case Severity::Stop: return "stop";
        case Severity::Warn: return "warn";
        case Severity::Note: return "note";
    }
    return "note";
}

Verdict worse(Verdict a, Verdict b) {
    const auto rank = [](Verdict v) {
        switch (v) {
            case Verdict::Breaks: return 3;
            case Verdict::Unknown: return 2;
            case Verdict::Tight: return 1;
            case Verdict::Holds: return 0;
        }
        return 0;
    };
    return rank(a) >= rank(b) ? a : b;
}

Verdict verdictOf(const std::vector<Finding>& findings) {
    Verdict verdict = Verdict::Holds;
    for (const auto& finding : findings) {
        if (finding.severity == Severity::Stop) verdict = worse(verdict, Verdict::Breaks);
        if (finding.severity == Severity::Warn) verdict = worse(verdict, Verdict::Tight);
    }
    return verdict;
}

namespace {

// As a person writes it: 1.66·10⁻⁵ for 1.66e-05, and a true minus sign.
std::string written(double value) {
    std::string text = significant(value, 4);
    if (const auto e = text.find('e'); e != std::string::npos) {
        static constexpr std::array<const char*, 10> raised{"⁰", "¹", "²", "³", "⁴", "⁵", "⁶", "⁷", "⁸", "⁹"};
        const int power = std::stoi(text.substr(e + 1));
        std::string up = power < 0 ? "⁻" : "";
        for (const char digit : std::to_string(std::abs(power))) up += raised[static_cast<std::size_t>(digit - '0')];
        text = text.substr(0, e) + "·10" + up;
    }
    if (text.front() == '-') text = "(−" + text.substr(1) + ")";
    return text;
}

}  // namespace

Step makeStep(std::string symbol, std::string meaning, std::string_view formula, std::initializer_list<Term> terms,
              std::optional<double> value, Kind kind, std::string source) {
    Step step;
    step.symbol = std::move(symbol);
    step.meaning = std::move(meaning);
    step.source = std::move(source);
    step.value = value;
    step.kind = kind;
    step.unit = siUnit(kind);
    std::size_t at = 0;
    while (at < formula.size()) {
        const auto open = formula.find('{', at);
        const auto close = open == std::string_view::npos ? open : formula.find('}', open);
        const auto plain = formula.substr(at, open == std::string_view::npos ? open : open - at);
        step.formula += plain;
        step.substituted += plain;
        if (close == std::string_view::npos) break;
        const auto name = formula.substr(open + 1, close - open - 1);
        step.formula += name;
        std::string number{name};
        for (const auto& term : terms)
            if (term.symbol == name) number = written(term.value);
        step.substituted += number;
        at = close + 1;
    }
    return step;
}

}  // namespace working
}  // namespace hinge

template class std::vector<hinge::Step>;
template class std::vector<hinge::Finding>;
