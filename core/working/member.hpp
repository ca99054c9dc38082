#pragma once
#include <optional>
#include <string>
#include <string_view>
#include <vector>
#include "quantity/kind.hpp"
#include "quantity/names.hpp"
#include "quantity/result.hpp"

namespace hinge {
inline namespace working {

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

/// One of an enumeration's names, and its words.
struct Choice {
    const char* id = "";
    const char* label = "";
};
/// "red, green, blue": the names.
[[nodiscard]] std::string listed(const std::vector<Choice>& choices);

/// A member of a working's input or output, of a project or of a part, without its type: how it is written and read. Kept small,
/// since one is made for every type that is named.
struct Member {
    enum class Holds { Quantity, Name, Truth, Text, Way, Curve, List };
    Holds holds = Holds::Quantity;
    Kind kind = Kind::Ratio;  ///< of a quantity, a list's entries or a curve's height
    bool optional = false;
    void (*reset)(void* member) = nullptr;  ///< of an optional one: to absent
    void (*put)(void* member, double number) = nullptr;
    bool (*take)(const void* member, double& number) = nullptr;     ///< false: absent
    bool (*put_name)(void* member, std::string_view id) = nullptr;  ///< false: no such name
    std::string_view (*take_name)(const void* member) = nullptr;    ///< empty: absent
    std::vector<Choice> (*choices)() = nullptr;
    void (*put_text)(void* member, std::string_view text) = nullptr;
    std::optional<std::string> (*take_text)(const void* member) = nullptr;
    std::vector<double> (*take_list)(const void* member) = nullptr;
};

template <class M>
struct WithoutOptional {
    using type = M;
    static constexpr bool optional = false;
    static const M* in(const void* member) { return static_cast<const M*>(member); }
};
template <class M>
struct WithoutOptional<std::optional<M>> {
    using type = M;
    static constexpr bool optional = true;
    static const M* in(const void* member) {
        const auto& value = *static_cast<const std::optional<M>*>(member);
        return value ? &*value : nullptr;
    }
};

/// Where a member lies within its whole, taken from one that is there.
template <class Whole, class M, class Base>
[[nodiscard]] std::size_t offsetIn(M Base::*member) {
    static const Whole sample{};
    return static_cast<std::size_t>(reinterpret_cast<const char*>(&(sample.*member)) - reinterpret_cast<const char*>(&sample));
}

template <Kind Y>
constexpr Kind heightOf(const CurveOf<Y>*) {
    return Y;
}

template <class M>
[[nodiscard]] constexpr Member memberOf() {
    using Plain = WithoutOptional<M>;
    using P = typename Plain::type;
    Member member;
    member.optional = Plain::optional;
    if constexpr (Plain::optional) member.reset = [](void* at) { static_cast<M*>(at)->reset(); };
    if constexpr (Measurable<P>) {
        member.kind = kindOf<P>;
        member.put = [](void* at, double value) { *static_cast<M*>(at) = of<P>(value); };
        member.take = [](const void* at, double& value) {
            const P* held = Plain::in(at);
            if (held != nullptr) value = si(*held);
            return held != nullptr;
        };
    } else if constexpr (std::is_same_v<P, bool>) {
        member.holds = Member::Holds::Truth;
        member.put = [](void* at, double value) { *static_cast<M*>(at) = value != 0.0; };
        member.take = [](const void* at, double& value) {
            const P* held = Plain::in(at);
            if (held != nullptr) value = *held ? 1.0 : 0.0;
            return held != nullptr;
        };
    } else if constexpr (Named<P>) {
        member.holds = Member::Holds::Name;
        member.put_name = [](void* at, std::string_view id) {
            const auto value = named<P>(id);
            if (value) *static_cast<M*>(at) = *value;
            return value.has_value();
        };
        member.take_name = [](const void* at) {
            const P* held = Plain::in(at);
            return held != nullptr ? std::string_view{nameOf(*held)} : std::string_view{};
        };
        member.choices = [] {
            std::vector<Choice> all;
            for (const auto& entry : Names<P>::all) all.push_back({entry.id, entry.label});
            return all;
        };
    } else if constexpr (std::is_same_v<P, std::string>) {
        member.holds = Member::Holds::Text;
        member.put_text = [](void* at, std::string_view text) { *static_cast<M*>(at) = std::string{text}; };
        member.take_text = [](const void* at) {
            const P* held = Plain::in(at);
            return held != nullptr ? std::optional{*held} : std::nullopt;
        };
    } else if constexpr (std::is_same_v<P, LengthOrAngle>) {
        static_assert(!Plain::optional);
        member.holds = Member::Holds::Way;
    } else if constexpr (std::is_base_of_v<Curve, P>) {
        static_assert(!Plain::optional);
        member.holds = Member::Holds::Curve;
        member.kind = heightOf(static_cast<const P*>(nullptr));
    } else {
        member.holds = Member::Holds::List;
        member.take_list = [](const void* at) {
            std::vector<double> list;
            if (const P* held = Plain::in(at))
                for (const auto& entry : *held) list.push_back(si(entry));
            return list;
        };
    }
    return member;
}

}  // namespace working
}  // namespace hinge
