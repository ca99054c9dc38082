#pragma once
// The line protocol between desk and board (docs/link-protocol.md): commands and answers are text
// lines, telemetry is a short binary frame with a check. Pure encode and decode.
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>
#include "firmware/runtime/spark_link.h"
#include "quantity/result.hpp"
#include "timing/calendar.hpp"

namespace hinge::link {

inline constexpr int version = 1;
inline constexpr int baud = 250000;
using spark::frame_start;
inline constexpr std::size_t longest_line = 120;
inline constexpr std::size_t most_values = 16;  ///< of one frame: levels, then readings

/// One sample of telemetry.
struct Telemetry {
    std::uint8_t sequence = 0;  ///< counts up by one a frame; a gap is a loss
    std::uint32_t time_ms = 0;  ///< board's ticks since power-up; rolls over after 49.7 days
    bool clock_set = false;
    bool stopped = false;               ///< the last thing was a stop
    bool faulted = false;               ///< a cue ended because something did not come in time
    std::uint32_t clock_ms = 0;         ///< after midnight
    std::uint8_t inputs = 0;            ///< debounced, one bit each
    std::uint8_t cues = 0;              ///< running, one bit each
    std::vector<std::uint16_t> levels;  ///< compare value per output, then the reading of each input that is measured
    friend bool operator==(const Telemetry&, const Telemetry&) = default;
};
/// A5, length, payload, CRC-8 (polynomial 0x07) over length and payload; numbers little-endian.
[[nodiscard]] std::string encode(const Telemetry& telemetry);
[[nodiscard]] std::uint8_t crc8(std::string_view bytes);

// What the board says in text.
struct Hello {
    int version = 0;
    std::string gadget;
    std::string plan;
};
struct ParameterLine {
    std::string name;
    std::int32_t value = 0, least = 0, most = 0;
    std::string unit;
};
struct NameLine {
    std::string what;
    int index = 0;
    std::string name;
};  ///< what: input, output, cue
struct Done {
    std::string text;
};
struct Refused {
    std::string text;
};
struct End {};
struct Told {
    std::string text;
};  ///< what it is doing, in words: ": The storm begins"
struct Unreadable {
    std::string text;
};
using Message = std::variant<Telemetry, Hello, ParameterLine, NameLine, Done, Refused, End, Told, Unreadable>;

/// Takes bytes as they come and gives messages; resynchronises after garbage.
class Decoder {
public:
    [[nodiscard]] std::vector<Message> feed(std::string_view bytes);
    /// Frames lost by sequence number, and bytes that fitted nothing.
    [[nodiscard]] std::size_t lost() const noexcept { return lost_; }
    [[nodiscard]] std::size_t garbage() const noexcept { return garbage_; }

private:
    std::string buffer_;
    std::optional<std::uint8_t> last_sequence_;
    std::size_t lost_ = 0;
    std::size_t garbage_ = 0;
};

// What the desk says.
struct SayHello {};
struct AskList {};
struct SetParameter {
    std::string name;
    std::int32_t value = 0;
    std::string word{};  ///< that starts what it sets, where there is one
};
struct SetClock {
    int seconds = 0;
    std::optional<timing::Date> date = std::nullopt;
};  ///< seconds after midnight
struct StartCue {
    int index = 0;
    std::string word{};  ///< that starts it, where there is one
};
struct Stop {};
struct Stream {
    bool on = true;
};
struct SayWord {
    std::string word;
};
struct SendNumber {
    int input = 0;
    std::int32_t reading = 0;
};                   ///< 0 to 1023
struct AskState {};  ///< which cues run, and where they stand
struct TellStates {
    bool on = true;
};  ///< says it whenever one begins or ends
struct Drive {
    int output = 0;
    std::int32_t value = 0;
    std::int32_t ms = 1000;
    std::string word{};  ///< that starts what it drives, where there is one
};                       ///< the desk's hand on an output: see routine::Happening::ByHand
struct Save {};          ///< the numbers, into the chip's EEPROM
struct Defaults {};      ///< back to the numbers of the sketch, saved ones forgotten
using Command = std::variant<SayHello, AskList, SetParameter, SetClock, StartCue, Stop, Stream, SayWord, SendNumber, AskState, TellStates,
                             Drive, Save, Defaults>;
/// One line without its newline.
[[nodiscard]] std::string encode(const Command& command);
[[nodiscard]] Message parseLine(std::string_view line);

/// A name as it is said on the line, by sketch and desk alike: in Latin letters and printable ASCII, one mark for each other character, no
/// blanks at its ends, at most 40 characters; "_" where nothing is left.
[[nodiscard]] std::string spoken(const std::string& name);

}  // namespace hinge::link
