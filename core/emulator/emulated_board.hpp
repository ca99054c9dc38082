#pragma once
#include <deque>
#include <memory>
#include <optional>
#include <vector>
#include "board/family.hpp"
#include "emulator/chip.hpp"
#include "emulator/expander_chip.hpp"
#include "emulator/radio_end.hpp"
#include "emulator/register_chip.hpp"
#include "plant/pump_plant.hpp"
#include "plant/stand_in.hpp"
#include "routine/program.hpp"

namespace hinge::emulator {

/// How the gadget is tied to the chip's pins.
struct Wiring {
    struct Input {
        std::optional<board::Pin> pin;  ///< none for what comes over the link
        bool active_high = false;
        bool empties = false;  ///< follows the first plant's float switch
        bool analogue = false;
        int channel = -1;  ///< of the converter
    };
    std::vector<board::Pin> outputs;
    std::vector<std::optional<board::Pin>> directions;  ///< of steppers, high is forwards; of what is turned round, high is backwards;
                                                        ///< of a bridge with two inputs the second
    /// Of a bridge with an input for each switch: the lower ones, of the end whose upper switch is the output and of the other one, whose
    /// upper switch is `directions`.
    std::vector<std::optional<board::Pin>> lows, back_lows;
    std::vector<std::optional<board::Pin>> enables;  ///< of steppers: low is awake; empty or none: always
    /// What else the sketch drives, and is only looked at: direction and enable lines, "curtain_direction".
    struct Line {
        std::string name;
        board::Pin pin;
    };
    std::vector<Line> lines;
    /// A driver whose settings are registers, at its lines: of one wire only `select`.
    struct Registers {
        std::size_t output = 0;
        const driver::RegisterMap* map = nullptr;
        board::Pin select;
        std::optional<board::Pin> clock, out, in;
        double microsteps = 1.0;  ///< that the plan reckons with
    };
    std::vector<Registers> registers;
    /// A board of more lines at its lines, of two wires or a serial one, and which output of the gadget hangs on which of its own.
    struct Expander {
        const driver::RegisterMap* map = nullptr;
        std::optional<board::Pin> clock, data, serial;
        std::vector<std::pair<std::size_t, int>> outputs;
        int board = 1;                                      ///< which of several alike
        std::vector<std::pair<std::size_t, int>> inputs{};  ///< which input of the gadget hangs on which of its lines
    };
    std::vector<Expander> expanders;
    /// A radio's serial line: the pin at which the chip hears it, the one at which it answers, and the chip's port that they are; 0: none.
    struct Radio {
        board::Pin in, out;
        int port = 0;
        double baud = 9600.0;
    };
    std::optional<Radio> radio;
    double logic = 5.0;                         ///< V of its logic supply
    std::vector<routine::ProgramOutput> kinds;  ///< as the program's; empty: all switched
    std::vector<bool> inverted;                 ///< low is on; empty: none is. Edges and shares are the load's, not the pin's
    std::vector<Input> inputs;
    std::optional<board::BusPart> clock;  ///< on the two-wire bus
    std::optional<board::Pin> crossing;   ///< the mains' crossings come in there: high from a little before each to a little after
};

/// The mains, as its crossings tell it.
struct Mains {
    bool there = true;
    double frequency = 50.0;  ///< Hz
    double early = 0.9e-3;    ///< s: from a pulse's beginning to its crossing, and from there to its end
    double jitter = 10e-6;    ///< s: each end comes up to so much sooner or later
    int bounces = 0;          ///< more changes at each end, 20 µs apart
};

/// The emitted sketch on the emulated chip, its pins driving the plants.
class EmulatedBoard final : public plant::StandIn {
public:
    /// @error as Chip::load
    static Result<std::unique_ptr<EmulatedBoard>> start(const std::filesystem::path& elf, const board::Family& family, Wiring wiring,
                                                        std::vector<plant::PumpFigures> plants);
    /// The same with a chip that is loaded already.
    static std::unique_ptr<EmulatedBoard> with(std::unique_ptr<Chip> chip, Wiring wiring, std::vector<plant::PumpFigures> plants);
    [[nodiscard]] std::string what() const override { return "emulated board, the emitted sketch"; }
    void advance(double seconds) override;
    [[nodiscard]] bool hears() const override { return chip_->hasSerial(); }
    void write(std::string_view bytes) override { chip_->send(bytes); }
    [[nodiscard]] std::string read() override { return chip_->received(); }
    [[nodiscard]] bool hearsRadio() const override { return radio_.has_value(); }
    void sayByRadio(std::string_view bytes) override;
    [[nodiscard]] std::string radioAnswers() override;
    void setInput(int index, bool active) override;
    void setReading(int index, int reading) override;
    void setRate(int index, double rate) override;
    [[nodiscard]] plant::Observation observe() const override;
    [[nodiscard]] const std::vector<plant::Edge>& edges() const override { return edges_; }
    /// When each output went on and off: as its edges, but of what latches by the way of its pulses.
    [[nodiscard]] std::vector<plant::Edge> switchings() const;
    /// That of what latches alone.
    [[nodiscard]] const std::vector<plant::Edge>& latchings() const { return latchings_; }
    /// Edges of the other lines, by their place in Wiring::lines.
    struct LineEdge {
        double time = 0.0;
        std::size_t line = 0;
        bool level = false;
    };
    [[nodiscard]] const std::vector<LineEdge>& lineEdges() const { return line_edges_; }
    [[nodiscard]] const std::vector<Wiring::Line>& lines() const { return wiring_.lines; }
    void fit(plant::Bench bench) override { bench_ = std::move(bench); }
    /// A pin from outside, in so many seconds from now.
    void driveLater(const board::Pin& pin, double after, bool high);
    /// The mains from now on.
    void setMains(const Mains& mains) { mains_ = mains; }
    void disturb(int output, double how_much) override { bench_.disturb(output, how_much); }
    /// Power goes and comes back: the sketch starts anew, its EEPROM kept.
    void cutPower() override;
    Chip& chip() { return *chip_; }
    ExpanderChip& expander(std::size_t which) { return expanders_[which]; }
    /// The driver of an output whose settings are registers; nullptr: it has none.
    RegisterChip* registersOf(std::size_t output);
    /// How often both switches of an end were closed at once, of bridges with an input for each.
    [[nodiscard]] int shortings() const { return shortings_; }
    /// Edges are kept up to this many; older ones go first. 0 keeps all.
    void keepEdges(std::size_t most) { most_edges_ = most; }

private:
    EmulatedBoard() = default;
    void slice();
    void changed(char port, int bit, bool level, std::uint64_t cycle);
    void switched(std::size_t output, bool level, std::uint64_t cycle);
    void endChanged(std::size_t output, const board::Pin& pin, bool level, std::uint64_t cycle);
    void noteLine(const LineEdge& edge);
    void noteLatch(std::size_t output, double time);
    /// What happens to the pins from outside within a millisecond.
    struct Outside {
        std::uint64_t cycle;
        const board::Pin* pin;  ///< nullptr: a crossing of the mains, or an expander's output
        bool level;
        int output = -1;  ///< that an expander drives
    };
    void pulses(std::uint64_t from, std::vector<Outside>& all);
    void crossings(std::vector<Outside>& all);
    std::deque<board::Pin> driven_;  ///< pins that something outside drives
    std::vector<Outside> outside_;   ///< what is still to happen, in its order
    void crossed();
    [[nodiscard]] double stepOf(std::size_t output);
    void expanderLine(const board::Pin& pin, bool level, std::uint64_t cycle);
    void frames(std::uint64_t from);
    void registerLine(const board::Pin& pin, bool level, std::uint64_t cycle);
    void noteWidth(std::size_t output, std::uint64_t width);
    [[nodiscard]] double placedDrive(std::size_t output);
    [[nodiscard]] double way(std::size_t output) const;
    [[nodiscard]] double pulsedSpeed(std::size_t output) const;
    [[nodiscard]] double steppedSpeed(std::size_t output);

    std::unique_ptr<Chip> chip_;
    Wiring wiring_;
    std::vector<plant::PumpPlant> plants_;
    std::vector<std::uint64_t> on_since_, on_cycles_, rose_;  ///< of this slice; and of the pulse, whatever the slices
    std::vector<bool> level_;
    std::vector<std::array<bool, 2>> in_;        ///< of bridges with two inputs: how each stands
    std::vector<std::array<bool, 4>> switches_;  ///< of bridges with an input for each: closed or not
    int shortings_ = 0;
    std::vector<std::uint64_t> changed_at_, fell_;
    std::vector<bool> backwards_;      ///< the second of them drove last
    std::vector<std::uint8_t> loose_;  ///< neither did in this slice
    std::vector<double> duty_;
    std::vector<double> shares_;                             ///< the same, below 0 the other way round
    std::vector<std::uint64_t> rises_, last_width_, quiet_;  ///< of placed outputs, this slice and before
    std::vector<bool> woken_, latched_;
    std::vector<bool> contact_;
    std::vector<double> rates_, phases_;  ///< Hz at each input, and the part of a pulse that has gone
    plant::Bench bench_;
    std::vector<double> places_before_;
    std::vector<double> places_;  ///< half µs of the last pulse, or steps counted at the pins
    std::vector<plant::Edge> edges_, latchings_;
    std::vector<LineEdge> line_edges_;
    std::size_t most_edges_ = 0;
    std::uint64_t target_ = 0;
    double owed_ = 0.0;
    Mains mains_;
    double crossing_at_ = 0.0;        ///< s: the next to come
    double crossed_at_ = 0.0;         ///< s: the last
    std::vector<double> fired_;       ///< of each output: where in this half-wave it was fired, 0 to 1; below 0: not yet
    std::vector<double> half_waves_;  ///< share of full power that the last one let through
    std::uint32_t noise_ = 1;
    std::optional<RadioEnd> radio_;
    [[nodiscard]] bool sameRate() const;
    std::vector<RegisterChip> registers_;  ///< as wiring_.registers
    /// The chip on which an input hangs, and its line there; nullptr: on none.
    std::pair<ExpanderChip*, int> hangsOn(std::size_t input);
    std::vector<ExpanderChip> expanders_;  ///< as wiring_.expanders
    std::vector<bool> pulled_;             ///< as they are: it keeps its data line down
    std::vector<bool> for_good_;           ///< as the outputs: an expander holds it on
    std::vector<double> frame_at_;         ///< the cycle of each one's next pulses
};

}  // namespace hinge::emulator
