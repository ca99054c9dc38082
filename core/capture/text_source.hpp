#pragma once
// A text stream in large pieces, with its place for messages.
#include <cstring>
#include <istream>
#include <string>
#include <string_view>
#include <vector>

namespace hinge::capture {

/// A foreign word as a message may show it: its first forty bytes, control characters as '?'.
[[nodiscard]] inline std::string shown(std::string_view text) {
    std::string clean;
    for (const char c : text.substr(0, 40)) clean += (c >= ' ' && c <= '~') || static_cast<unsigned char>(c) >= 0x80 ? c : '?';
    return clean;
}

/// Hands out whole tokens or lines without copying; a view holds until the next call.
class TextSource {
public:
    explicit TextSource(std::istream& in) : in_{in}, buffer_(1 << 20) { fill(); }

    [[nodiscard]] std::uint64_t bytes() const { return before_ + at_; }
    [[nodiscard]] std::uint64_t line() const { return line_; }
    /// A byte that no text has was met.
    [[nodiscard]] bool binary() const { return binary_; }
    /// The last token or line ended with the stream, not with white space.
    [[nodiscard]] bool cut() const { return cut_; }

    /// The next run of characters above blank; empty at the end.
    std::string_view token() {
        for (;;) {
            while (at_ < end_ && static_cast<unsigned char>(buffer_[at_]) <= ' ') {
                if (buffer_[at_] == '\n') ++line_;
                if (buffer_[at_] == '\0') binary_ = true;
                ++at_;
            }
            if (at_ < end_) break;
            if (!fill()) return {};
        }
        std::size_t stop = at_;
        for (;;) {
            while (stop<end_&& static_cast<unsigned char>(buffer_[stop])> ' ') ++stop;
            if (stop < end_) break;
            const std::size_t length = stop - at_;
            const bool more = fill();  // moves what is not taken yet, whether more comes or not
            stop = at_ + length;
            if (!more) {
                cut_ = true;
                break;
            }
        }
        const std::string_view found(buffer_.data() + at_, stop - at_);
        at_ = stop;
        return found;
    }
    /// The next line without its end; false at the end.
    bool nextLine(std::string_view& text) {
        if (at_ == end_ && !fill()) return false;
        std::size_t from = at_;
        for (;;) {
            const void* found = std::memchr(buffer_.data() + from, '\n', end_ - from);
            if (found != nullptr) {
                const auto stop = static_cast<std::size_t>(static_cast<const char*>(found) - buffer_.data());
                text = {buffer_.data() + at_, stop - at_};
                at_ = stop + 1;
                break;
            }
            const std::size_t length = end_ - at_;
            if (!fill()) {
                text = {buffer_.data() + at_, end_ - at_};
                at_ = end_;
                cut_ = true;
                break;
            }
            from = at_ + length;
        }
        ++line_;
        if (!text.empty() && text.back() == '\r') text.remove_suffix(1);
        return true;
    }

private:
    // Moves what is not taken yet to the front and reads on; false when nothing more comes.
    bool fill() {
        const std::size_t left = end_ - at_;
        if (left == buffer_.size()) buffer_.resize(buffer_.size() * 2);
        std::memmove(buffer_.data(), buffer_.data() + at_, left);
        before_ += at_;
        at_ = 0;
        in_.read(buffer_.data() + left, static_cast<std::streamsize>(buffer_.size() - left));
        const auto got = static_cast<std::size_t>(in_.gcount());
        if (got > 0 && std::memchr(buffer_.data() + left, '\0', got) != nullptr) binary_ = true;
        end_ = left + got;
        return got > 0;
    }

    std::istream& in_;
    std::vector<char> buffer_;
    std::size_t at_ = 0, end_ = 0;
    std::uint64_t before_ = 0, line_ = 0;
    bool binary_ = false, cut_ = false;
};

}  // namespace hinge::capture
