#pragma once
// The emitted sketch: the compiled routine printed as C++ for the sketch API, with every number
// named at the top.
#include <optional>
#include <string>
#include <vector>
#include "board/bus_part.hpp"
#include "board/family.hpp"
#include "driver/expander_rate.hpp"
#include "quantity/result.hpp"
#include "routine/program.hpp"
#include "timing/pwm_timer.hpp"

namespace hinge::firmware {

/// A board of more lines on which an output lies, its pin being the output there.
struct OnExpander {
    const driver::RegisterMap* map = nullptr;
    int board = 1;    ///< which of several alike
    int address = 0;  ///< on two wires
    std::string name{};
    std::optional<driver::ExpanderRate> rate{};  ///< of its pulses
    [[nodiscard]] bool sharesBoard(const OnExpander& other) const { return map == other.map && board == other.board; }
};

struct SketchOutput {
    board::Pin pin;
    std::optional<timing::PwmTimerResult> pwm;           ///< absent: switched on and off only
    std::optional<board::Pin> direction, enable;         ///< direction: of a stepper (high: forwards), or of what is turned round (high:
                                                         ///< backwards); enable: of a stepper, active low
    bool inverted = false;                               ///< the pin is low while the load is on
    std::optional<timing::PwmTimerResult> second_pwm{};  ///< of a bridge with two inputs: of the second, which is `direction`
    const driver::RegisterMap* registers = nullptr;      ///< of a driver whose settings are registers, and what they are given
    std::vector<driver::RegisterWrite> register_writes{};
    std::optional<board::Pin> select{};  ///< its select line, or its one serial wire
    std::optional<OnExpander> expander{};
    std::optional<board::Pin> low{},
        back_low{};  ///< of a bridge with an input for each switch: the lower ones; `pin` and `direction` are above
    int dead_ticks = 0, second_dead_ticks = 0;  ///< counts of the timer between the two of an end
    int block = 0;                              ///< ticks of a block of whole cycles of the mains that it gives or withholds; 0: none
};

/// A pin that no cue drives and that must stand at a level.
struct HeldPin {
    board::Pin pin;
    bool high = false;
    std::string why;
};

struct SketchModel {
    std::string gadget;
    std::string plan;  ///< short mark of the plan that made it
    board::Family family;
    routine::Program program;
    std::vector<SketchOutput> outputs;                         ///< as program.outputs
    std::vector<std::optional<board::Pin>> inputs;             ///< as program.inputs; none for what comes over the link
    std::vector<std::optional<OnExpander>> input_expanders{};  ///< as inputs: the board of more lines on which each lies
    std::vector<bool> pulled_up;                               ///< as inputs: the pin's own pull-up is on
    std::vector<HeldPin> held;
    bool watchdog = false;
    std::optional<board::BusPart> clock;  ///< on the two-wire bus
    std::optional<board::Pin> crossing;   ///< at which the mains' crossings come in
    struct RegisterBus {
        std::optional<board::Pin> clock, out, in;
    };
    RegisterBus register_bus;  ///< that drivers whose settings are registers share
    struct ExpanderBus {
        std::optional<board::Pin> clock, data, serial;
    };
    ExpanderBus expander_bus;
    struct Radio {
        board::Pin in, out;
        int rate = 9600;  ///< baud
        bool starts = true, drives = false, sets = false;
    };
    std::optional<Radio> radio{};  ///< on a line of its own
};

struct SketchFile {
    std::string name, text;
};
struct Sketch {
    std::string name;  ///< identifier; file is name.ino
    std::string text;
    std::vector<SketchFile> beside;  ///< headers of its own, for the same folder or one below it
};

/// The mark of the plan that made a sketch; empty where it names none.
[[nodiscard]] std::string planMark(const Sketch& sketch);
/// A sketch made anew with what a hand wrote between the marks of an older one ("// >>> yours: top" to "// <<<").
/// What stood between marks that there are no more is kept at the top, as comments.
[[nodiscard]] std::string withHandWritten(const std::string& fresh, const std::string& older);

/// @error Missing  an output or input has no pin
[[nodiscard]] Result<Sketch> emit(const SketchModel& model);

/// The same in one file: the headers of the runtime stand where they were included.
[[nodiscard]] Sketch singleFile(Sketch sketch);
/// Register lines of an AVR timer's waveform, as the sketch prints them; timer 0 is left as the sketch API sets it.
[[nodiscard]] std::string timerRegisters(const timing::PwmTimerResult& pwm);

/// Text made safe inside a C string: printable ASCII, quotes and backslashes escaped.
[[nodiscard]] std::string cString(const std::string& text);
/// Text made safe inside a // comment: one line, in Latin letters and printable ASCII.
[[nodiscard]] std::string comment(const std::string& text);

}  // namespace hinge::firmware
