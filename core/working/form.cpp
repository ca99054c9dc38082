#include "working/form.hpp"
#include <fmt/format.h>
#include "quantity/text.hpp"

template class std::vector<hinge::InputSpec>;
template class std::vector<hinge::OutputSpec>;
template class std::vector<hinge::Shown>;
template class std::vector<hinge::FormPtr>;

namespace hinge {
inline namespace working {

namespace {

const void* at(const void* whole, std::size_t offset) {
    return static_cast<const char*>(whole) + offset;
}
void* at(void* whole, std::size_t offset) {
    return static_cast<char*>(whole) + offset;
}

ShownValue shown(const Member& member, const void* held, const UnitScale& scale) {
    double value = 0.0;
    switch (member.holds) {
        case Member::Holds::Quantity:
            if (!member.take(held, value)) return std::monostate{};
            value = (value - scale.offset) / scale.factor;
            if (!std::isfinite(value)) return std::monostate{};
            return value;
        case Member::Holds::Truth:
            if (!member.take(held, value)) return std::monostate{};
            return value != 0.0;
        case Member::Holds::Name: {
            const auto id = member.take_name(held);
            if (id.empty()) return std::monostate{};
            return std::string{id};
        }
        case Member::Holds::Text: {
            auto text = member.take_text(held);
            if (!text) return std::monostate{};
            return std::move(*text);
        }
        case Member::Holds::Way: return static_cast<const LengthOrAngle*>(held)->value;
        case Member::Holds::Curve: {
            std::vector<double> flat;
            for (const auto& point : static_cast<const Curve*>(held)->points) {
                flat.push_back(point.x);
                flat.push_back(point.y);
            }
            return flat;
        }
        case Member::Holds::List: return member.take_list(held);
    }
    return std::monostate{};
}

}  // namespace

void Form::addInput(const char* input, const Member& member, std::size_t offset, const char* default_text, const char* help) {
    Binding binding;
    binding.member = member;
    binding.offset = offset;
    InputSpec spec;
    spec.name = input;
    spec.help = help;
    spec.optional = member.optional;
    if (default_text != nullptr) spec.default_text = default_text;
    switch (member.holds) {
        case Member::Holds::Quantity:
            spec.unit = siUnit(member.kind);
            if (member.kind == Kind::Fraction) binding.accepts.most = 1.0;
            if (member.kind == Kind::Temperature) binding.accepts = {200.0, true, std::numeric_limits<double>::infinity()};
            if (!spec.default_text.empty() && parseQuantity(member.kind, spec.default_text).value_or(1.0) == 0.0)
                binding.accepts.least_itself = true;
            break;
        case Member::Holds::Name: spec.choices = listed(member.choices()); break;
        case Member::Holds::Way: spec.unit = "m or rad"; break;
        case Member::Holds::Curve: spec.unit = std::string{siUnit(Kind::VolumeFlow)} + ":" + std::string{siUnit(member.kind)}; break;
        case Member::Holds::Truth:
        case Member::Holds::Text:
        case Member::Holds::List: break;
    }
    inputs.push_back(std::move(spec));
    bindings_.push_back(std::move(binding));
    describe();
}

void Form::addOutput(const char* output, const Member& member, std::size_t offset, const char* help, const char* unit) {
    OutputSpec spec{output, "", help};
    Reader reader{member, offset, {}};
    if (member.holds == Member::Holds::Quantity) {
        spec.unit = siUnit(member.kind);
        if (unit != nullptr) {
            spec.unit = unit;
            reader.scale = unitScale(member.kind, unit).value_or(UnitScale{});
        }
    } else if (unit != nullptr) {
        spec.unit = unit;
    }
    readers_.push_back(std::move(reader));
    outputs.push_back(std::move(spec));
}

void Form::addOtherwise(const char* words) {
    inputs.back().default_text = "";
    inputs.back().help += std::string{" (default: "} + words + ")";
}

void Form::describe() {
    auto& spec = inputs.back();
    const auto& binding = bindings_.back();
    const Kind kind = binding.member.holds == Member::Holds::Quantity ? binding.member.kind : Kind::Ratio;
    spec.range = spec.choices.empty() ? inWords(binding.accepts, kind) : "one of " + spec.choices;
}

std::optional<Error> Form::set(void* in, std::size_t index, std::string_view text) const {
    const auto& binding = bindings_[index];
    const auto& member = binding.member;
    void* const held = at(in, binding.offset);
    std::string_view given = text;
    for (const auto& [spelt, meant] : binding.spellings)
        if (spelt == text) given = meant;
    const auto named = [&](Error error) {
        error.field = inputs[index].name;
        return error;
    };
    switch (member.holds) {
        case Member::Holds::Quantity: {
            const auto value = parseQuantity(member.kind, given, binding.bare);
            if (!value) return named(value.error());
            const auto& a = binding.accepts;
            if (*value < a.least || (*value == a.least && !a.least_itself) || *value > a.most)
                return named({ErrorCode::OutOfRange, "", std::string{given}, inWords(a, member.kind)});
            member.put(held, *value);
            return std::nullopt;
        }
        case Member::Holds::Name:
            if (!member.put_name(held, given))
                return named({ErrorCode::Unknown, "", std::string{given}, "one of " + inputs[index].choices});
            return std::nullopt;
        case Member::Holds::Text: member.put_text(held, given); return std::nullopt;
        case Member::Holds::Way: {
            const auto way = parseLengthOrAngle(given);
            if (!way) return named(way.error());
            *static_cast<LengthOrAngle*>(held) = *way;
            return std::nullopt;
        }
        case Member::Holds::Curve: {
            auto curve = parseCurve(given, Kind::VolumeFlow, member.kind);
            if (!curve) return named(curve.error());
            static_cast<Curve*>(held)->points = std::move(curve->points);
            return std::nullopt;
        }
        case Member::Holds::Truth:
        case Member::Holds::List: break;  // results only
    }
    return named({ErrorCode::BadFormat, "", std::string{given}, "no value: this is a result"});
}

std::optional<Error> Form::read(const Given& given, void* in) const {
    std::vector<bool> seen(inputs.size(), false);
    for (const auto& [key, text] : given) {
        const auto index = indexOf(key);
        if (!index) {
            const std::string all = joined(inputs, ", ", [&](const auto& spec) { return spec.name; });
            return Error{ErrorCode::Unknown, key, key, "the inputs of " + name + " are " + all};
        }
        if (seen[*index]) return Error{ErrorCode::Conflict, key, text, "give " + key + " once"};
        seen[*index] = true;
        if (auto error = set(in, *index, text)) return error;
    }
    for (const auto& sets : groups_)
        if (auto error = checkGroup(sets, seen)) return error;
    for (const auto& pair : pairs_)
        if (auto error = checkPair(pair, seen)) return error;
    for (std::size_t i = 0; i < inputs.size(); ++i) {
        if (seen[i]) continue;
        if (!inputs[i].default_text.empty()) {
            if (auto error = set(in, i, inputs[i].default_text)) return error;
        } else if (!inputs[i].optional && !inGroup(inputs[i].name)) {
            return Error{ErrorCode::Missing, inputs[i].name, "",
                         inputs[i].help + (inputs[i].unit.empty() ? "" : " [" + inputs[i].unit + "]")};
        }
    }
    return std::nullopt;
}

Answer Form::told(const void* in, const void* result) const {
    Answer answer;
    answer.work = name;
    for (std::size_t i = 0; i < inputs.size(); ++i) {
        const auto& binding = bindings_[i];
        const void* const held = at(in, binding.offset);
        UnitScale scale;
        if (!binding.bare.empty()) scale = unitScale(binding.member.kind, binding.bare).value_or(UnitScale{});
        std::string unit = inputs[i].unit;
        if (binding.member.holds == Member::Holds::Way) unit = siUnit(static_cast<const LengthOrAngle*>(held)->kind);
        answer.inputs.push_back({inputs[i].name, shown(binding.member, held, scale), std::move(unit)});
    }
    for (std::size_t i = 0; i < outputs.size(); ++i)
        answer.results.push_back(
            {outputs[i].name, shown(readers_[i].member, at(result, readers_[i].offset), readers_[i].scale), outputs[i].unit});
    return answer;
}

std::optional<std::size_t> Form::indexOf(std::string_view key) const {
    for (std::size_t i = 0; i < inputs.size(); ++i)
        if (inputs[i].name == key) return i;
    return std::nullopt;
}

bool Form::inGroup(std::string_view key) const {
    for (const auto& sets : groups_)
        for (const auto& one : sets)
            for (const auto& member : one)
                if (member == key) return true;
    return false;
}

std::optional<Error> Form::checkGroup(const std::vector<std::vector<std::string>>& sets, const std::vector<bool>& seen) const {
    std::string all;
    int whole = 0;
    std::string half;
    for (const auto& one : sets) {
        std::size_t present = 0;
        std::string missing;
        for (const auto& member : one) {
            if (seen[*indexOf(member)]) ++present;
            else missing = member;
        }
        all += (all.empty() ? "" : " / ") + joined(one, "+");
        if (present == one.size()) ++whole;
        else if (present > 0) half = missing;
    }
    if (!half.empty() && whole == 0) return Error{ErrorCode::Missing, half, "", "it goes with the other half of " + all};
    if (whole == 0) return Error{ErrorCode::Missing, all, "", "give exactly one of " + all};
    if (whole > 1 || !half.empty()) return Error{ErrorCode::Conflict, all, "", "give exactly one of " + all};
    return std::nullopt;
}

std::optional<Error> Form::checkPair(const std::vector<std::string>& pair, const std::vector<bool>& seen) const {
    std::size_t present = 0;
    std::string missing;
    for (const auto& member : pair) {
        if (seen[*indexOf(member)]) ++present;
        else missing = member;
    }
    if (present != 0 && present != pair.size()) return Error{ErrorCode::Missing, missing, "", "these go together"};
    return std::nullopt;
}

std::string listed(const std::vector<Choice>& choices) {
    return joined(choices, ", ", [](const auto& choice) { return choice.id; });
}

std::string inWords(const Accepts& accepts, Kind kind) {
    const bool free_below = std::isinf(accepts.least);
    const bool free_above = std::isinf(accepts.most);
    const auto number = [&](double value) {
        return kind == Kind::Temperature || kind == Kind::Angle ? displayPlain(kind, value) : significant(value, 4);
    };
    if (free_below && free_above) return "any number";
    if (free_below) return fmt::format("at most {}", number(accepts.most));
    const std::string low =
        accepts.least_itself ? fmt::format("at least {}", number(accepts.least)) : fmt::format("greater than {}", number(accepts.least));
    return free_above ? low : fmt::format("{}, at most {}", low, number(accepts.most));
}

Result<LengthOrAngle> parseLengthOrAngle(std::string_view text) {
    LengthOrAngle way;
    auto value = parseQuantity(Kind::Length, text);
    if (!value && value.error().code == ErrorCode::WrongUnit) {
        if (auto angle = parseQuantity(Kind::Angle, text)) value = angle, way.kind = Kind::Angle;
        else value.error().accepted = "a length or an angle: " + unitExamples(Kind::Length) + ", " + unitExamples(Kind::Angle);
    }
    if (!value) return tl::unexpected(value.error());
    if (*value <= 0.0) return fail(ErrorCode::OutOfRange, "", std::string{text}, "greater than 0");
    way.value = *value;
    return way;
}

Result<Curve> parseCurve(std::string_view text, Kind x_kind, Kind y_kind) {
    const auto bad = [&](const std::string& why) { return fail(ErrorCode::BadFormat, "curve", std::string{text}, why); };
    Curve curve;
    std::string_view rest = text;
    while (true) {
        const auto comma = rest.find(',');
        const auto item = rest.substr(0, comma);
        const auto colon = item.find(':');
        if (colon == std::string_view::npos) return bad("points as 'flow:height', separated by commas, such as 0:3,0.00002:0");
        auto x = parseQuantity(x_kind, item.substr(0, colon));
        auto y = parseQuantity(y_kind, item.substr(colon + 1));
        if (!x || !y) {
            Error error = !x ? x.error() : y.error();
            error.field = "curve";
            return tl::unexpected(error);
        }
        if (curve.points.empty() ? *x != 0.0 : *x <= curve.points.back().x)
            return bad("a flow that starts at 0 and rises from point to point");
        if (*y < 0.0 || (!curve.points.empty() && *y > curve.points.back().y)) return bad("a height that is not negative and never rises");
        curve.points.push_back({*x, *y});
        if (comma == std::string_view::npos) break;
        rest = rest.substr(comma + 1);
    }
    if (curve.points.size() < 2) return bad("at least two points");
    return curve;
}

}  // namespace working
}  // namespace hinge
