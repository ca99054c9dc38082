#pragma once
// Short marks of texts, the same on every machine and in every run.
#include <cstdint>
#include <string_view>

namespace hinge {
inline namespace quantity {

/// FNV-1a, as its IETF draft has it (from memory); for telling apart what nobody makes alike on purpose.
[[nodiscard]] constexpr std::uint32_t fnv32(std::string_view text) {
    std::uint32_t hash = 2166136261u;
    for (const char c : text) hash = (hash ^ static_cast<std::uint8_t>(c)) * 16777619u;
    return hash;
}
[[nodiscard]] constexpr std::uint64_t fnv64(std::string_view text) {
    std::uint64_t hash = 14695981039346656037ull;
    for (const char c : text) hash = (hash ^ static_cast<std::uint8_t>(c)) * 1099511628211ull;
    return hash;
}

}  // namespace quantity
}  // namespace hinge
