#pragma once
#include <algorithm>
#include <cctype>
#include <optional>
#include <string_view>
#include "quantity/letters.hpp"

namespace hinge {
inline namespace quantity {

/// One choice of a closed list: its value, its name in files and on the command line, and the
/// words a person reads.
template <class E>
struct Name {
    E value;
    const char* id;
    const char* label;
};
/// Specialise with `static constexpr std::array<Name<E>, N> all`.
template <class E>
struct Names;

template <class E>
concept Named = requires {
    Names<E>::all;
};

template <Named E>
[[nodiscard]] constexpr const char* nameOf(E value) {
    for (const auto& entry : Names<E>::all)
        if (entry.value == value) return entry.id;
    return "";
}
template <Named E>
[[nodiscard]] constexpr const char* labelOf(E value) {
    for (const auto& entry : Names<E>::all)
        if (entry.value == value) return entry.label;
    return "";
}
/// The choice of that name, whatever its case.
template <Named E>
[[nodiscard]] std::optional<E> named(std::string_view id) {
    const auto same = [](char a, char b) { return lowered(a) == lowered(b); };
    for (const auto& entry : Names<E>::all) {
        const std::string_view name = entry.id;
        if (name.size() == id.size() && std::equal(name.begin(), name.end(), id.begin(), same)) return entry.value;
    }
    return std::nullopt;
}

}  // namespace quantity
}  // namespace hinge
