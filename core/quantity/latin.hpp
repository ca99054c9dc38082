#pragma once
// Names in any script, in the letters that a sketch, a file of it and the link can carry.
#include <string>

namespace hinge {
inline namespace quantity {

/// UTF-8 in Latin letters without marks, script by script; what has none there (an arrow, a picture) stays as it is.
/// What comes out may hold quotes, slashes and stars that did not look like it: make it safe afterwards, not before.
/// @source Unicode CLDR, BGN (Russian), Any-Latin and Latin-ASCII, by ICU; signs that only soften or harden are left out
[[nodiscard]] std::string inLatin(const std::string& text);

}  // namespace quantity
}  // namespace hinge
