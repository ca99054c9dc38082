#include "plan/rules.hpp"
#include <algorithm>
#include <array>

namespace hinge::plan {
namespace {

using S = project::Stage;
constexpr auto stop = Severity::Stop, warn = Severity::Warn, note = Severity::Note;

constexpr std::array table{
    // Need: what is asked, and what can hurt.
    Rule{"demand-refused", S::Need, stop, Cure::Words},
    Rule{"stroke-over-horn", S::Need, stop, Cure::Words},
    Rule{"dose-over-time", S::Need, stop, Cure::Part},
    Rule{"dose-near-limit", S::Need, warn, Cure::Part},
    Rule{"pinch-point", S::Need, note, Cure::Care, "Pinch and crush points"},
    Rule{"hot-part", S::Need, note, Cure::Care, "Hot parts"},
    Rule{"heater-cutout", S::Need, stop, Cure::Edit, "A heater"},
    Rule{"water-near", S::Need, note, Cure::Care, "Water near electricity"},
    // Match: the part and its driver.
    Rule{"too-weak", S::Match, stop, Cure::Part},
    Rule{"servo-over-half", S::Match, warn, Cure::Part},
    Rule{"stepper-over-half", S::Match, warn, Cure::Part},
    Rule{"over-margin", S::Match, warn, Cure::Part},
    Rule{"too-slow", S::Match, stop, Cure::Part},
    Rule{"barely-fast", S::Match, warn, Cure::Part},
    Rule{"supply-over", S::Match, stop, Cure::Part},
    Rule{"supply-low", S::Match, warn, Cure::Part},
    Rule{"supply-too-low", S::Match, stop, Cure::Part},
    Rule{"servo-range", S::Match, stop, Cure::Part},
    Rule{"stroke-over", S::Match, stop, Cure::Part},
    Rule{"no-position", S::Match, warn, Cure::Words},
    Rule{"no-hold", S::Match, stop, Cure::Part},
    Rule{"held-weakly", S::Match, warn, Cure::Edit},
    Rule{"pump-cannot-lift", S::Match, stop, Cure::Part},
    Rule{"too-little-air", S::Match, stop, Cure::Part},
    Rule{"noise-over", S::Match, warn, Cure::Part},
    Rule{"coil-duty", S::Match, stop, Cure::Part},
    Rule{"coil-wont-pull", S::Match, stop, Cure::Driver},
    Rule{"driver-overcurrent", S::Match, stop, Cure::Driver},
    Rule{"stall-over-driver", S::Match, warn, Cure::Driver},
    Rule{"switch-voltage", S::Match, stop, Cure::Driver},
    Rule{"gate-not-enhanced", S::Match, stop, Cure::Driver},
    Rule{"gate-divided", S::Match, warn, Cure::Edit},
    Rule{"driver-hot", S::Match, stop, Cure::Driver},
    Rule{"relay-no-pwm", S::Match, stop, Cure::Driver},
    Rule{"contact-inrush", S::Match, stop, Cure::Driver},
    Rule{"base-starved", S::Match, stop, Cure::Driver},
    Rule{"led-overcurrent", S::Match, stop, Cure::Edit},
    Rule{"led-barely", S::Match, warn, Cure::Driver},
    Rule{"not-for-mains", S::Match, stop, Cure::Driver},
    Rule{"ssr-leakage", S::Match, warn, Cure::Driver},
    Rule{"ssr-no-dim", S::Match, stop, Cure::Driver},
    Rule{"dimmed-lamp", S::Match, warn, Cure::Words},
    Rule{"misfit", S::Match, stop, Cure::Driver},
    Rule{"mains-present", S::Match, note, Cure::Care, "Mains voltage"},
    Rule{"mains-present", S::Need, note, Cure::Care, "Mains voltage"},
    Rule{"mains-wet", S::Need, note, Cure::Care, "Mains near water"},
    Rule{"mains-present", S::Feed, note, Cure::Care, "Mains voltage"},
    Rule{"expander-rails", S::Feed, stop, Cure::Edit},
    Rule{"sample-suspect", S::Match, warn, Cure::Words},
    Rule{"sample-first", S::Match, warn, Cure::Words},
    Rule{"figure-missing", S::Match, note, Cure::Words},
    Rule{"part-missing", S::Match, stop, Cure::Words},
    // Feed: sources, rails, wires and fuses.
    Rule{"pin-feeds", S::Feed, stop, Cure::Edit},
    Rule{"mover-on-logic-rail", S::Feed, warn, Cure::Words},
    Rule{"no-common-ground", S::Feed, stop, Cure::Edit},
    Rule{"wire-hot", S::Feed, stop, Cure::Edit},
    Rule{"wire-drop", S::Feed, stop, Cure::Edit},
    Rule{"wire-unprotected", S::Feed, warn, Cure::Edit},
    Rule{"fuse-missing", S::Feed, warn, Cure::Edit},
    Rule{"fuse-small", S::Feed, warn, Cure::Edit},
    Rule{"fuse-large", S::Feed, warn, Cure::Edit},
    Rule{"fuse-unsure", S::Feed, note, Cure::Words},
    Rule{"fuse-idle", S::Feed, note, Cure::Words},
    Rule{"rail-loop", S::Feed, stop, Cure::Words},
    Rule{"rail-unfed", S::Feed, stop, Cure::Words},
    Rule{"rail-over", S::Feed, stop, Cure::Edit},
    Rule{"rail-sag", S::Feed, stop, Cure::Edit},
    Rule{"brown-out", S::Feed, stop, Cure::Edit},
    Rule{"out-of-guaranteed-range", S::Feed, stop, Cure::Edit},
    Rule{"logic-follows", S::Feed, note, Cure::Words},
    Rule{"regulator-hot", S::Feed, stop, Cure::Edit},
    Rule{"regulator-dropout", S::Feed, stop, Cure::Words},
    Rule{"no-flyback-path", S::Feed, stop, Cure::Edit},
    Rule{"capacitor-stored", S::Feed, note, Cure::Care, "A charged capacitor"},
    Rule{"capacitor-voltage", S::Feed, stop, Cure::Edit},
    Rule{"source-over", S::Feed, stop, Cure::Edit},
    Rule{"usb-budget", S::Feed, stop, Cure::Edit},
    Rule{"coincidence-bounded", S::Feed, note, Cure::Care},
    Rule{"lithium-present", S::Feed, note, Cure::Care, "Lithium cells"},
    Rule{"cells-unprotected", S::Feed, stop, Cure::Edit},
    Rule{"battery-empty-voltage", S::Feed, warn, Cure::Edit},
    Rule{"battery-peak", S::Feed, warn, Cure::Words},
    Rule{"idle-drain", S::Feed, stop, Cure::Edit},
    // Pins.
    Rule{"pin-overcurrent", S::Pins, stop, Cure::Driver},
    Rule{"pin-overcurrent", S::Match, stop, Cure::Edit},
    Rule{"level-mismatch", S::Pins, stop, Cure::Driver},
    Rule{"pin-cannot", S::Pins, stop, Cure::Edit},
    Rule{"pin-taken", S::Pins, stop, Cure::Edit},
    Rule{"serial-shared", S::Pins, stop, Cure::Edit},
    Rule{"strap-pin", S::Pins, warn, Cure::Edit},
    Rule{"no-interrupt", S::Pins, stop, Cure::Edit},
    Rule{"timer-clash", S::Pins, stop, Cure::Edit},
    Rule{"fan-wrong-pwm", S::Pins, stop, Cure::Edit},
    Rule{"grounds-short", S::Pins, warn, Cure::Edit},
    Rule{"stall-unread", S::Pins, warn, Cure::Words},
    Rule{"pins-short", S::Pins, stop, Cure::Words},
    Rule{"pins-open", S::Pins, note, Cure::Edit},
    Rule{"board-changed", S::Pins, stop, Cure::Edit},
    // Pulse.
    Rule{"frequency-out-of-reach", S::Pulse, stop, Cure::Edit},
    Rule{"audible-pwm", S::Pulse, warn, Cure::Edit},
    Rule{"flickers", S::Pulse, warn, Cure::Edit},
    Rule{"fan-zero-runs", S::Pulse, note, Cure::Edit},
    Rule{"not-real-time", S::Pulse, warn, Cure::Words},
    Rule{"step-too-fast", S::Pulse, stop, Cure::Edit},
    Rule{"start-too-steep", S::Pulse, warn, Cure::Edit},
    Rule{"servo-range", S::Pulse, stop, Cure::Words},
    Rule{"interrupts-too-many", S::Pulse, stop, Cure::Words},
    Rule{"move-too-long", S::Pulse, stop, Cure::Words},
    // Routine.
    Rule{"routine-broken", S::Routine, stop, Cure::Edit},
    Rule{"interlock-violable", S::Routine, stop, Cure::Edit},
    Rule{"no-safe-state", S::Routine, stop, Cure::Edit},
    Rule{"latch-stays", S::Routine, note, Cure::Words},
    Rule{"dose-off", S::Routine, warn, Cure::Edit},
    Rule{"asked-too-fast", S::Routine, warn, Cure::Edit},
    Rule{"command-guessable", S::Routine, warn, Cure::Edit},
    Rule{"word-overheard", S::Routine, warn, Cure::Words},
    Rule{"link-open", S::Routine, warn, Cure::Words},
    Rule{"endless-wait", S::Routine, warn, Cure::Words},
    Rule{"never-backwards", S::Routine, note, Cure::Edit},
    Rule{"let-go", S::Routine, note, Cure::Edit},
    Rule{"coasts-on", S::Routine, note, Cure::Edit},
    Rule{"only-way-out", S::Routine, note, Cure::Care},
    Rule{"restart-unattended", S::Routine, note, Cure::Care, "It starts by itself"},
    Rule{"overlapping-cues", S::Routine, note, Cure::Words},
    Rule{"fires-twice", S::Routine, note, Cure::Care},
    Rule{"clock-lost", S::Routine, note, Cure::Edit, "The clock is lost in a power cut"},
    Rule{"clock-battery", S::Routine, note, Cure::Care},
    Rule{"no-homing", S::Routine, note, Cure::Edit},
    Rule{"first-move-jumps", S::Routine, note, Cure::Care},
    Rule{"dry-run", S::Routine, note, Cure::Words},
    // Code.
    Rule{"not-driven", S::Code, stop, Cure::Edit},
    Rule{"not-read", S::Code, stop, Cure::Words},
    Rule{"no-watchdog", S::Code, warn, Cure::Edit},
    Rule{"no-link", S::Code, note, Cure::Care},
    Rule{"ram-short", S::Code, warn, Cure::Words},
    // Tune: what was measured against what was planned.
    Rule{"flow-off-model", S::Tune, warn, Cure::Words},
    Rule{"loop-too-slow", S::Tune, warn, Cure::Edit},
    Rule{"loop-out-of-reach", S::Tune, stop, Cure::Words},
    Rule{"loop-counts-coarsely", S::Tune, note, Cure::Words},
    Rule{"fan-below-start", S::Tune, stop, Cure::Edit},
    Rule{"step-too-fast", S::Tune, stop, Cure::Words},
    Rule{"step-near-limit", S::Tune, warn, Cure::Words},
    Rule{"stall-over-plan", S::Tune, warn, Cure::Words},
    Rule{"jams-slow", S::Tune, warn, Cure::Edit},
    Rule{"driver-hot", S::Tune, stop, Cure::Words},
    // Prove and Log: what core/proof adds of readings, pieces, fits and stock.
    Rule{"reading-off", S::Prove, stop, Cure::Words},
    Rule{"sample-rejected", S::Prove, warn, Cure::Words},
    Rule{"does-not-fit", S::Prove, stop, Cure::Words},
    Rule{"parts-short", S::Log, warn, Cure::Words},
};

}  // namespace

std::span<const Rule> rules() {
    return table;
}
const Rule* findRule(std::string_view id, project::Stage stage) {
    const auto found = std::find_if(table.begin(), table.end(), [&](const Rule& rule) { return rule.id == id && rule.stage == stage; });
    return found != table.end() ? &*found : nullptr;
}
const Rule* findRule(std::string_view id) {
    const auto found = std::find_if(table.begin(), table.end(), [&](const Rule& rule) { return rule.id == id; });
    return found != table.end() ? &*found : nullptr;
}

}  // namespace hinge::plan
