#pragma once
// Letters of ASCII, the same under every desktop's locale: in Turkish the C library's small I is no i.

namespace hinge {
inline namespace quantity {

[[nodiscard]] constexpr char lowered(char c) {
    return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
}
[[nodiscard]] constexpr char raised(char c) {
    return c >= 'a' && c <= 'z' ? static_cast<char>(c - 'a' + 'A') : c;
}
[[nodiscard]] constexpr bool isLetterOrDigit(char c) {
    return (c >= '0' && c <= '9') || (lowered(c) >= 'a' && lowered(c) <= 'z');
}

}  // namespace quantity
}  // namespace hinge
