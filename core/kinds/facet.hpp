#pragma once
// A facet is what one kind answers to one question. A kind that has no answer says why: it is never skipped.
#include <limits>
#include <type_traits>

namespace hinge::kinds {

/// In the place of a facet: why this kind has none ("a relay has no gate").
struct NotForThis {
    const char* why;
};

/// A facet that answers the same whatever it is asked: `.shaft = always<true>`.
template <auto value>
struct Always {};
template <auto value>
inline constexpr Always<value> always{};

/// One facet of a kind: a function of plain values, or the reason why there is none.
template <class F>
class Facet;
template <class R, class... A>
class Facet<R(A...)> {
public:
    constexpr Facet() = default;
    constexpr Facet(R (*answer)(A...)) : answer_(answer) {}   // NOLINT: a description reads as a table
    constexpr Facet(NotForThis none) : without_(none.why) {}  // NOLINT
    template <auto value>
    constexpr Facet(Always<value> /*same*/) : answer_([](A...) -> R { return value; }) {}  // NOLINT
    constexpr explicit operator bool() const { return answer_ != nullptr; }
    /// The answer; where there is none, nothing: not a number, nullopt, an empty list, false.
    R operator()(A... asked) const {
        if (answer_ != nullptr) return answer_(static_cast<A&&>(asked)...);
        if constexpr (std::is_same_v<R, double>) return std::numeric_limits<double>::quiet_NaN();
        else return R();
    }
    /// Why there is none; nullptr where there is an answer.
    [[nodiscard]] constexpr const char* without() const { return without_; }
    /// Said one way or the other.
    [[nodiscard]] constexpr bool said() const { return (answer_ != nullptr) != (without_ != nullptr); }

private:
    R (*answer_)(A...) = nullptr;
    const char* without_ = nullptr;
};

}  // namespace hinge::kinds
