#pragma once
// A case of a rule: a project that trips it at its worst, one that just does not, and, where an edit cures it, that edit.
#include <optional>
#include <ostream>
#include <vector>
#include "plan/rules.hpp"
#include "project/facts.hpp"
#include "support/alone.hpp"

namespace hinge::plan::ruled {

using Edits = std::vector<project::FactEdit>;
using S = project::Stage;

// Where a case starts from.
enum Base { Rain, Stage, Box, Rider, RiderOnCells, BoxWeak };

// What is judged.
struct Gadget {
    project::Project project;
    project::Parts parts;
    std::optional<Evidence::Build> build;  ///< of its sketch
};
struct Case {
    const char* id;
    S stage;
    Base from;
    Edits trips;  ///< none: as it is
    Edits holds;  ///< just does not; none: as it is
    const char* why;
    /// What no edit of a fact does.
    void (*shape)(Gadget&, bool trips) = nullptr;
    bool milder = false;  ///< others are found, but not as bad
};

inline void PrintTo(const Case& rule, std::ostream* out) {
    *out << rule.id;
}

/// Lamps: an LED on the pin; on a transistor, at so many volts.
[[nodiscard]] Edits led(const char* part, const char* resistor = "");
[[nodiscard]] Edits lit(const char* part, const char* volts);
/// A power bank of 5 V that switches itself off below so much.
[[nodiscard]] Edits bank(const char* least);
/// A supply that is never what is short, and nothing that a loop holds.
void strong(Gadget& gadget);

/// The cases of each stage.
[[nodiscard]] std::vector<Case> ofNeed();
[[nodiscard]] std::vector<Case> ofMatch();
[[nodiscard]] std::vector<Case> ofFeed();
[[nodiscard]] std::vector<Case> ofPinsAndPulse();
[[nodiscard]] std::vector<Case> ofRoutine();
[[nodiscard]] std::vector<Case> ofTheRest();

}  // namespace hinge::plan::ruled
