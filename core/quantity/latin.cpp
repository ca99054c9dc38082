#include "quantity/latin.hpp"
#include <unicode/translit.h>
#include <algorithm>
#include <memory>
#include <mutex>

namespace hinge {
inline namespace quantity {

std::string inLatin(const std::string& text) {
    if (std::all_of(text.begin(), text.end(), [](char c) { return static_cast<unsigned char>(c) < 0x80; })) return text;
    static std::mutex one_at_a_time;  // ICU does not promise that two threads may ask one of these at once
    const std::lock_guard lock{one_at_a_time};
    static const std::unique_ptr<icu::Transliterator> latin = [] {
        UErrorCode status = U_ZERO_ERROR;
        return std::unique_ptr<icu::Transliterator>{icu::Transliterator::createInstance(
            R"(Russian-Latin/BGN; Any-Latin; [\u02B9\u02BA\u02BC\u2019] Remove; Latin-ASCII)", UTRANS_FORWARD, status)};
    }();
    if (latin == nullptr) return text;
    auto letters = icu::UnicodeString::fromUTF8(text);
    latin->transliterate(letters);
    std::string written;
    return letters.toUTF8String(written);
}

}  // namespace quantity
}  // namespace hinge
