#include "link/protocol.hpp"
#include <fmt/format.h>
#include <charconv>
#include "quantity/latin.hpp"
#include "timing/time_of_day.hpp"

namespace hinge::link {

std::string spoken(const std::string& name) {
    constexpr std::size_t longest = 40;
    std::string said;
    for (const char c : inLatin(name)) {
        const auto u = static_cast<unsigned char>(c);
        const bool continues = u >= 0x80 && u < 0xC0;  // of a character that has its mark already
        if (said.empty() && c == ' ') continue;
        if (!continues) said += u >= 32 && u < 127 ? c : '_';
        if (said.size() == longest) break;
    }
    while (!said.empty() && said.back() == ' ') said.pop_back();
    return said.empty() ? "_" : said;
}
namespace {

std::uint32_t take(std::string_view in, std::size_t at, int bytes) {
    std::uint32_t value = 0;
    for (int i = 0; i < bytes; ++i)
        value |= static_cast<std::uint32_t>(static_cast<std::uint8_t>(in[at + static_cast<std::size_t>(i)])) << (8 * i);
    return value;
}
constexpr std::size_t fixed_payload = 12;  // sequence, time, flags, clock, inputs, cues

std::vector<std::string_view> words(std::string_view line) {
    std::vector<std::string_view> list;
    std::size_t at = 0;
    while (at < line.size()) {
        while (at < line.size() && line[at] == ' ') ++at;
        const auto end = std::min(line.find(' ', at), line.size());
        if (end > at) list.push_back(line.substr(at, end - at));
        at = end;
    }
    return list;
}
std::optional<std::int32_t> whole(std::string_view text) {
    std::int32_t value = 0;
    const auto read = std::from_chars(text.data(), text.data() + text.size(), value);
    if (read.ec != std::errc{} || read.ptr != text.data() + text.size()) return std::nullopt;
    return value;
}
std::string restAfter(std::string_view line, std::string_view word) {
    const auto at = static_cast<std::size_t>(word.data() - line.data()) + word.size();
    auto rest = line.substr(std::min(at, line.size()));
    while (!rest.empty() && rest.front() == ' ') rest.remove_prefix(1);
    return std::string{rest};
}

}  // namespace

std::uint8_t crc8(std::string_view bytes) {
    std::uint8_t crc = 0;
    for (const char c : bytes) crc = spark::crc8(crc, static_cast<std::uint8_t>(c));
    return crc;
}

std::string encode(const Telemetry& t) {
    struct {
        std::string bytes;
        void write(std::uint8_t byte) { bytes += static_cast<char>(byte); }
    } out;
    spark::Frame frame(out, static_cast<std::uint8_t>(t.levels.size()), t.sequence, t.time_ms,
                       static_cast<std::uint8_t>((t.clock_set ? 1u : 0u) | (t.stopped ? 2u : 0u) | (t.faulted ? 4u : 0u)), t.clock_ms,
                       t.inputs, t.cues);
    for (const auto level : t.levels) frame.value(level);
    frame.end();
    return std::move(out.bytes);
}

std::vector<Message> Decoder::feed(std::string_view bytes) {
    std::vector<Message> messages;
    buffer_ += bytes;
    std::size_t at = 0;
    while (at < buffer_.size()) {
        const auto byte = static_cast<std::uint8_t>(buffer_[at]);
        if (byte == frame_start) {
            if (buffer_.size() - at < 2) break;
            const auto length = static_cast<std::size_t>(static_cast<std::uint8_t>(buffer_[at + 1]));
            if (length < fixed_payload || length > fixed_payload + 2 * most_values || length % 2 != 0) {
                ++garbage_, ++at;
                continue;
            }
            if (buffer_.size() - at < length + 3) break;
            const std::string_view checked{buffer_.data() + at + 1, length + 1};
            if (crc8(checked) != static_cast<std::uint8_t>(buffer_[at + length + 2])) {
                ++garbage_, ++at;
                continue;
            }
            const std::string_view payload = checked.substr(1);
            Telemetry t;
            t.sequence = static_cast<std::uint8_t>(payload[0]);
            t.time_ms = take(payload, 1, 4);
            t.clock_set = (payload[5] & 1) != 0;
            t.stopped = (payload[5] & 2) != 0;
            t.faulted = (payload[5] & 4) != 0;
            t.clock_ms = take(payload, 6, 4);
            t.inputs = static_cast<std::uint8_t>(payload[10]);
            t.cues = static_cast<std::uint8_t>(payload[11]);
            for (std::size_t i = fixed_payload; i + 1 < payload.size(); i += 2)
                t.levels.push_back(static_cast<std::uint16_t>(take(payload, i, 2)));
            if (last_sequence_) lost_ += static_cast<std::uint8_t>(t.sequence - *last_sequence_ - 1);
            last_sequence_ = t.sequence;
            messages.emplace_back(std::move(t));
            at += length + 3;
            continue;
        }
        // A text line: printable bytes up to a newline. Anything else is garbage.
        std::size_t end = at;
        while (end < buffer_.size() && buffer_[end] != '\n' && static_cast<std::uint8_t>(buffer_[end]) != frame_start) ++end;
        if (end == buffer_.size()) {
            if (end - at > longest_line) {
                garbage_ += end - at;
                at = end;
            }
            break;
        }
        if (buffer_[end] != '\n') {
            garbage_ += end - at;
            at = end;
            continue;
        }
        std::string_view line{buffer_.data() + at, end - at};
        if (!line.empty() && line.back() == '\r') line.remove_suffix(1);
        if (!line.empty()) {
            auto message = parseLine(line);
            if (std::holds_alternative<Unreadable>(message)) garbage_ += line.size();
            messages.push_back(std::move(message));
        }
        at = end + 1;
    }
    buffer_.erase(0, at);
    return messages;
}

Message parseLine(std::string_view line) {
    const auto w = words(line);
    if (w.empty()) return Unreadable{""};
    if (w[0] == "hello" && w.size() >= 4 && w[1] == "hinge-spark") {
        const auto number = whole(w[2]);
        if (number) return Hello{*number, restAfter(line, w[3]), std::string{w[3]}};
    }
    if (w[0] == "param" && w.size() == 6) {
        const auto value = whole(w[2]), least = whole(w[3]), most = whole(w[4]);
        if (value && least && most) return ParameterLine{std::string{w[1]}, *value, *least, *most, std::string{w[5]}};
    }
    if ((w[0] == "input" || w[0] == "output" || w[0] == "cue") && w.size() >= 3) {
        const auto index = whole(w[1]);
        if (index) return NameLine{std::string{w[0]}, *index, restAfter(line, w[1])};
    }
    if (w[0] == "ok") return Done{restAfter(line, w[0])};
    if (w[0] == "error") return Refused{restAfter(line, w[0])};
    if (w[0] == "end") return End{};
    if (w[0] == ":") return Told{restAfter(line, w[0])};
    std::string text;
    for (const char c : line.substr(0, 60)) text += static_cast<unsigned char>(c) >= 32 && static_cast<unsigned char>(c) < 127 ? c : '?';
    return Unreadable{text};
}

std::string encode(const Command& command) {
    struct Visitor {
        std::string operator()(const SayHello&) const { return "hello"; }
        std::string operator()(const AskList&) const { return "list"; }
        static std::string with(const std::string& word) { return word.empty() ? word : " " + word; }
        std::string operator()(const SetParameter& c) const { return fmt::format("set {} {}{}", c.name, c.value, with(c.word)); }
        std::string operator()(const SetClock& c) const {
            const std::string time = fmt::format("clock {:02}:{:02}:{:02}", c.seconds / 3600, c.seconds / 60 % 60, c.seconds % 60);
            return c.date ? time + fmt::format(" {:04}-{:02}-{:02}", c.date->year, c.date->month, c.date->day) : time;
        }
        std::string operator()(const StartCue& c) const { return fmt::format("start {}{}", c.index, with(c.word)); }
        std::string operator()(const Stop&) const { return "stop"; }
        std::string operator()(const Stream& c) const { return c.on ? "stream 1" : "stream 0"; }
        std::string operator()(const SayWord& c) const { return "say " + c.word; }
        std::string operator()(const SendNumber& c) const { return fmt::format("number {} {}", c.input, c.reading); }
        std::string operator()(const AskState&) const { return "state"; }
        std::string operator()(const TellStates& c) const { return c.on ? "tell 1" : "tell 0"; }
        std::string operator()(const Drive& c) const { return fmt::format("drive {} {} {}{}", c.output, c.value, c.ms, with(c.word)); }
        std::string operator()(const Save&) const { return "save"; }
        std::string operator()(const Defaults&) const { return "defaults"; }
    };
    return std::visit(Visitor{}, command);
}

}  // namespace hinge::link
