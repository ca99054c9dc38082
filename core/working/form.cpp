#include "working/form.hpp"
#include <fmt/format.h>

namespace hinge {
inline namespace working {

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
