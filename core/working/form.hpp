#pragma once
#include <cmath>
#include <functional>
#include <limits>
#include <memory>
#include <string>
#include <utility>
#include <variant>
#include <vector>
#include "quantity/names.hpp"
#include "quantity/text.hpp"
#include "quantity/units.hpp"
#include "working/worked.hpp"

namespace hinge {
inline namespace working {

/// A value as the command line and the JSON show it.
using ShownValue = std::variant<std::monostate, double, bool, std::string, std::vector<double>>;
struct Shown {
    std::string name;
    ShownValue value;
    std::string unit;
};

/// Inputs as given: name and text, in the order given.
using Given = std::vector<std::pair<std::string, std::string>>;

/// What a working answers: inputs echoed with their defaults, results, judgement and steps.
struct Answer {
    std::string work;
    std::vector<Shown> inputs;
    std::vector<Shown> results;
    Verdict verdict = Verdict::Holds;
    std::vector<Finding> findings;
    Steps steps;
};

/// One point of a curve: flow [m³/s] and head [m] or pressure [Pa].
struct CurvePoint {
    double x = 0.0;
    double y = 0.0;
    friend bool operator==(const CurvePoint&, const CurvePoint&) = default;
};
/// A pump or fan curve: at least two points, x from 0 and strictly rising, y not rising.
struct Curve {
    std::vector<CurvePoint> points;
    friend bool operator==(const Curve&, const Curve&) = default;
};
/// A curve of head [m], or of another kind, over flow [m³/s].
template <Kind Y>
struct CurveOf : Curve {};
using HeadCurve = CurveOf<Kind::Length>;
using PressureCurve = CurveOf<Kind::Pressure>;
/// A way along a line or round an axle: the unit given decides which.
struct LengthOrAngle {
    double value = 0.0;  ///< m or rad
    Kind kind = Kind::Length;
    friend bool operator==(const LengthOrAngle&, const LengthOrAngle&) = default;
};
/// A length by its units, else an angle by its; a bare number is metres; greater than 0.
[[nodiscard]] Result<LengthOrAngle> parseLengthOrAngle(std::string_view text);
/// Reads "0:3,0.0001 m3/s:2 m" and checks the shape.
/// @error BadFormat, WrongUnit, NotANumber
[[nodiscard]] Result<Curve> parseCurve(std::string_view text, Kind x_kind, Kind y_kind);

/// Describes one input for help and for parsing.
struct InputSpec {
    std::string name;
    std::string unit;          ///< shown and, for a bare number, assumed
    std::string default_text;  ///< empty: required, or see `optional`
    bool optional = false;     ///< may be absent
    std::string help;
    std::string range;    ///< in words
    std::string choices;  ///< of an enumeration, comma-separated
};
struct OutputSpec {
    std::string name;
    std::string unit;
    std::string help;
};

/// A working as the command line sees it: described, and answered from text.
class Form {
public:
    virtual ~Form() = default;
    [[nodiscard]] virtual Result<Answer> answer(const Given& given) const = 0;

    std::string name;
    std::string stage;
    std::string summary;
    std::string formula;  ///< the rule in one or two lines, for help
    std::string source;
    std::vector<InputSpec> inputs;
    std::vector<OutputSpec> outputs;
};
using FormPtr = std::shared_ptr<const Form>;

/// Which numbers an input accepts, in SI.
struct Accepts {
    double least = 0.0;
    bool least_itself = false;  // least is accepted too
    double most = std::numeric_limits<double>::infinity();
};
[[nodiscard]] std::string inWords(const Accepts& accepts, Kind kind);

/// Ties a typed working to its description. One `in` per input, one `out` per result; a modifier
/// (`zeroOk`, `signedOk`, `upTo`, `from`, `bare`) applies to the input before it.
template <class In, class Out>
class FormOf final : public Form {
public:
    using Function = Result<Worked<Out>> (*)(const In&);
    FormOf(std::string work, std::string of_stage, std::string what, std::string from_source, Function function) : function_{function} {
        name = std::move(work);
        stage = std::move(of_stage);
        summary = std::move(what);
        source = std::move(from_source);
    }

    /// `default_text`: nullptr is required (or optional, if the member is); otherwise parsed.
    template <class M>
    FormOf& in(const char* input, M In::*member, const char* default_text, const char* help) {
        Binding binding;
        InputSpec spec;
        spec.name = input;
        spec.help = help;
        if (default_text != nullptr) spec.default_text = default_text;
        bind(binding, spec, member);
        if constexpr (isQuantity<M>()) {
            const Kind kind = kindOf<Plain<M>>;
            binding.kind = kind;
            if (kind == Kind::Fraction) binding.accepts.most = 1.0;
            if (kind == Kind::Temperature) binding.accepts = {200.0, true, std::numeric_limits<double>::infinity()};
            const std::string text = spec.default_text;
            if (!text.empty() && parseQuantity(kind, text).value_or(1.0) == 0.0) binding.accepts.least_itself = true;
        }
        inputs.push_back(std::move(spec));
        bindings_.push_back(std::move(binding));
        describe();
        return *this;
    }
    FormOf& zeroOk() {
        bindings_.back().accepts.least_itself = true;
        return describe();
    }
    FormOf& signedOk() {
        bindings_.back().accepts.least = -std::numeric_limits<double>::infinity();
        return describe();
    }
    FormOf& between(double least, double most) {
        bindings_.back().accepts = {least, true, most};
        return describe();
    }
    /// Other spellings of a value, as given and as read.
    FormOf& spelt(std::vector<std::pair<std::string, std::string>> spellings) {
        bindings_.back().spellings = std::move(spellings);
        return *this;
    }
    FormOf& upTo(double most) {
        bindings_.back().accepts.most = most;
        return describe();
    }
    /// A bare number is in `unit`, and the echo is too.
    FormOf& bare(const char* unit) {
        bindings_.back().bare = unit;
        inputs.back().unit = unit;
        return describe();
    }
    /// What an absent optional input stands for, in words.
    FormOf& otherwise(const char* words) {
        inputs.back().default_text = "";
        inputs.back().help += std::string{" (default: "} + words + ")";
        return *this;
    }
    /// The rule in words and signs, for help.
    FormOf& rule(const char* text) {
        formula = text;
        return *this;
    }
    /// Exactly one of these sets of inputs is to be given, each whole.
    FormOf& oneOf(std::vector<std::vector<std::string>> sets) {
        groups_.push_back(std::move(sets));
        return *this;
    }
    /// All or none of these.
    FormOf& together(std::vector<std::string> pair) {
        pairs_.push_back(std::move(pair));
        return *this;
    }
    /// Fills defaults that depend on other inputs, before the working and the echo.
    FormOf& resolve(std::function<void(In&)> fill) {
        resolve_ = std::move(fill);
        return *this;
    }
    /// Sets what is not an input (a reader of files) before the inputs are read.
    FormOf& prepare(std::function<void(In&)> set_up) {
        prepare_ = std::move(set_up);
        return *this;
    }

    template <class M>
    FormOf& out(const char* output, M Out::*member, const char* help, const char* unit = nullptr) {
        OutputSpec spec{output, "", help};
        UnitScale scale;
        if constexpr (isQuantity<M>()) {
            spec.unit = siUnit(kindOf<Plain<M>>);
            if (unit != nullptr) {
                spec.unit = unit;
                scale = unitScale(kindOf<Plain<M>>, unit).value_or(UnitScale{});
            }
        } else if (unit != nullptr) {
            spec.unit = unit;
        }
        readers_.push_back([member, scale](const Out& out_value) { return show(out_value.*member, scale); });
        outputs.push_back(std::move(spec));
        return *this;
    }

    [[nodiscard]] Result<Answer> answer(const Given& given) const override {
        In in_value{};
        if (prepare_) prepare_(in_value);
        std::vector<bool> seen(inputs.size(), false);
        for (const auto& [key, text] : given) {
            const auto index = indexOf(key);
            if (!index) return fail(ErrorCode::Unknown, key, key, "the inputs of " + name + " are " + listInputs());
            if (seen[*index]) return fail(ErrorCode::Conflict, key, text, "give " + key + " once");
            seen[*index] = true;
            if (auto error = set(in_value, *index, text)) return tl::unexpected(*error);
        }
        for (const auto& sets : groups_)
            if (auto error = checkGroup(sets, seen)) return tl::unexpected(*error);
        for (const auto& pair : pairs_)
            if (auto error = checkPair(pair, seen)) return tl::unexpected(*error);
        for (std::size_t i = 0; i < inputs.size(); ++i) {
            if (seen[i]) continue;
            if (!inputs[i].default_text.empty()) {
                if (auto error = set(in_value, i, inputs[i].default_text)) return tl::unexpected(*error);
            } else if (!inputs[i].optional && !inGroup(inputs[i].name)) {
                return fail(ErrorCode::Missing, inputs[i].name, "",
                            inputs[i].help + (inputs[i].unit.empty() ? "" : " [" + inputs[i].unit + "]"));
            }
        }
        if (resolve_) resolve_(in_value);
        auto worked = function_(in_value);
        if (!worked) return tl::unexpected(worked.error());
        Answer answer;
        answer.work = name;
        for (std::size_t i = 0; i < inputs.size(); ++i)
            answer.inputs.push_back(
                {inputs[i].name, bindings_[i].get(in_value), bindings_[i].unit ? bindings_[i].unit(in_value) : inputs[i].unit});
        for (std::size_t i = 0; i < outputs.size(); ++i)
            answer.results.push_back({outputs[i].name, readers_[i](worked->result), outputs[i].unit});
        answer.verdict = worked->verdict;
        answer.findings = std::move(worked->findings);
        answer.steps = std::move(worked->steps);
        return answer;
    }

private:
    template <class M>
    struct Unwrap {
        using type = M;
    };
    template <class M>
    struct Unwrap<std::optional<M>> {
        using type = M;
    };
    template <class M>
    using Plain = typename Unwrap<M>::type;
    template <class M>
    static constexpr bool isQuantity() {
        return Measurable<Plain<M>>;
    }

    struct Binding {
        std::function<std::optional<Error>(In&, std::string_view, const Binding&)> set;
        std::function<ShownValue(const In&)> get;
        std::function<std::string(const In&)> unit;  // where it depends on what was given
        Kind kind = Kind::Ratio;
        Accepts accepts;
        std::string bare;
        std::vector<std::pair<std::string, std::string>> spellings;
    };

    template <class V>
    static ShownValue show(const V& value, const UnitScale& scale) {
        if constexpr (Measurable<V>) {
            const double shown = (si(value) - scale.offset) / scale.factor;
            if (!std::isfinite(shown)) return std::monostate{};
            return shown;
        } else if constexpr (std::is_same_v<V, bool>) {
            return value;
        } else if constexpr (std::is_same_v<V, std::string>) {
            return value;
        } else if constexpr (Named<V>) {
            return std::string{nameOf(value)};
        } else if constexpr (std::is_same_v<V, LengthOrAngle>) {
            return value.value;
        } else if constexpr (std::is_base_of_v<Curve, V>) {
            std::vector<double> flat;
            for (const auto& point : value.points) {
                flat.push_back(point.x);
                flat.push_back(point.y);
            }
            return flat;
        } else if constexpr (requires { value.has_value(); }) {
            if (!value) return std::monostate{};
            return show(*value, scale);
        } else {
            std::vector<double> list;
            for (const auto& entry : value) list.push_back(si(entry));
            return list;
        }
    }

    template <class M>
    void bind(Binding& binding, InputSpec& spec, M In::*member) {
        using P = Plain<M>;
        spec.optional = !std::is_same_v<P, M>;
        if constexpr (std::is_base_of_v<Curve, P>) spec.unit = curveUnit(P{});
        if constexpr (Measurable<P>) {
            spec.unit = siUnit(kindOf<P>);
            binding.set = [member](In& target, std::string_view text, const Binding& self) -> std::optional<Error> {
                auto value = parseQuantity(kindOf<P>, text, self.bare);
                if (!value) return value.error();
                const auto& a = self.accepts;
                if (*value < a.least || (*value == a.least && !a.least_itself) || *value > a.most)
                    return Error{ErrorCode::OutOfRange, "", std::string{text}, inWords(a, kindOf<P>)};
                target.*member = of<P>(*value);
                return std::nullopt;
            };
            binding.get = [this, member, index = bindings_.size()](const In& source_value) -> ShownValue {
                const auto& unit = bindings_[index].bare;
                const auto scale = unit.empty() ? UnitScale{} : unitScale(kindOf<P>, unit).value_or(UnitScale{});
                return show(source_value.*member, scale);
            };
        } else if constexpr (Named<P>) {
            for (const auto& entry : Names<P>::all) spec.choices += (spec.choices.empty() ? "" : ", ") + std::string{entry.id};
            binding.set = [member, choices = spec.choices](In& target, std::string_view text, const Binding&) -> std::optional<Error> {
                const auto value = named<P>(text);
                if (!value) return Error{ErrorCode::Unknown, "", std::string{text}, "one of " + choices};
                target.*member = *value;
                return std::nullopt;
            };
            binding.get = [member](const In& source_value) { return show(source_value.*member, UnitScale{}); };
        } else {
            // Texts and lists: the member's own reader, found by its type.
            binding.set = [member](In& target, std::string_view text, const Binding&) -> std::optional<Error> {
                return readInto(target.*member, text);
            };
            binding.get = [member](const In& source_value) { return show(source_value.*member, UnitScale{}); };
            if constexpr (std::is_same_v<P, LengthOrAngle>) {
                spec.unit = "m or rad";
                binding.unit = [member](const In& source_value) { return std::string{siUnit((source_value.*member).kind)}; };
            }
        }
    }
    static std::optional<Error> readInto(LengthOrAngle& target, std::string_view text) {
        auto value = parseLengthOrAngle(text);
        if (!value) return value.error();
        target = *value;
        return std::nullopt;
    }
    static std::optional<Error> readInto(std::string& target, std::string_view text) {
        target = std::string{text};
        return std::nullopt;
    }
    static std::optional<Error> readInto(std::optional<std::string>& target, std::string_view text) {
        target = std::string{text};
        return std::nullopt;
    }
    template <Kind Y>
    static std::string curveUnit(const CurveOf<Y>&) {
        return std::string{siUnit(Kind::VolumeFlow)} + ":" + std::string{siUnit(Y)};
    }
    template <Kind Y>
    static std::optional<Error> readInto(CurveOf<Y>& target, std::string_view text) {
        auto curve = parseCurve(text, Kind::VolumeFlow, Y);
        if (!curve) return curve.error();
        target.points = std::move(curve->points);
        return std::nullopt;
    }
    std::optional<Error> set(In& target, std::size_t index, std::string_view text) const {
        const auto& binding = bindings_[index];
        std::string_view read = text;
        for (const auto& [given, meant] : binding.spellings)
            if (given == text) read = meant;
        auto error = binding.set(target, read, binding);
        if (error) error->field = inputs[index].name;
        return error;
    }
    [[nodiscard]] std::optional<std::size_t> indexOf(std::string_view key) const {
        for (std::size_t i = 0; i < inputs.size(); ++i)
            if (inputs[i].name == key) return i;
        return std::nullopt;
    }
    [[nodiscard]] std::string listInputs() const {
        std::string text;
        for (const auto& spec : inputs) text += (text.empty() ? "" : ", ") + spec.name;
        return text;
    }
    [[nodiscard]] bool inGroup(std::string_view key) const {
        for (const auto& sets : groups_)
            for (const auto& one : sets)
                for (const auto& member : one)
                    if (member == key) return true;
        return false;
    }
    [[nodiscard]] std::optional<Error> checkGroup(const std::vector<std::vector<std::string>>& sets, const std::vector<bool>& seen) const {
        std::string all;
        int whole = 0;
        std::string half;
        for (const auto& one : sets) {
            std::string joined;
            std::size_t present = 0;
            std::string missing;
            for (const auto& member : one) {
                joined += (joined.empty() ? "" : "+") + member;
                if (seen[*indexOf(member)]) ++present;
                else missing = member;
            }
            all += (all.empty() ? "" : " / ") + joined;
            if (present == one.size()) ++whole;
            else if (present > 0) half = missing;
        }
        if (!half.empty() && whole == 0) return Error{ErrorCode::Missing, half, "", "it goes with the other half of " + all};
        if (whole == 0) return Error{ErrorCode::Missing, all, "", "give exactly one of " + all};
        if (whole > 1 || !half.empty()) return Error{ErrorCode::Conflict, all, "", "give exactly one of " + all};
        return std::nullopt;
    }
    [[nodiscard]] std::optional<Error> checkPair(const std::vector<std::string>& pair, const std::vector<bool>& seen) const {
        std::size_t present = 0;
        std::string missing;
        for (const auto& member : pair) {
            if (seen[*indexOf(member)]) ++present;
            else missing = member;
        }
        if (present != 0 && present != pair.size()) return Error{ErrorCode::Missing, missing, "", "these go together"};
        return std::nullopt;
    }
    FormOf& describe() {
        auto& spec = inputs.back();
        spec.range = spec.choices.empty() ? inWords(bindings_.back().accepts, bindings_.back().kind) : "one of " + spec.choices;
        return *this;
    }

    Function function_;
    std::vector<Binding> bindings_;
    std::vector<std::function<ShownValue(const Out&)>> readers_;
    std::vector<std::vector<std::vector<std::string>>> groups_;
    std::vector<std::vector<std::string>> pairs_;
    std::function<void(In&)> resolve_, prepare_;
};

}  // namespace working
}  // namespace hinge
