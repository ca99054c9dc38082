#pragma once
#include "quantity/dimensions.hpp"
#include "quantity/names.hpp"
#include <array>
#include <optional>
#include <string>
#include <vector>

namespace hinge::journal {

enum class EntryKind { Note, Change, Measurement, Failure, Cost, Lesson, Run };

/// One line of the journal, dated by whoever writes it.
struct Entry {
    std::string id;
    std::string date;      ///< ISO 8601, "2026-11-24T14:30"
    EntryKind kind = EntryKind::Note;
    std::string channel;   ///< empty: the whole gadget
    std::string text;
    std::string settings;  ///< of a run: "rain_run 3200 ms, rain_duty 1000 permille"
    std::string lesson;
    std::optional<Ratio> cost;
    friend bool operator==(const Entry&, const Entry&) = default;
};

/// A bring-up step that was done.
struct Check {
    std::string id;        ///< of the step
    std::string reading;   ///< as typed, with its unit
    std::string date;
    std::string skipped;   ///< the reason, when it was skipped
    std::string basis;     ///< what it was taken of: part, driver, rail, pins; when that has changed, it counts no more
    friend bool operator==(const Check&, const Check&) = default;
};

/// What is recorded of one wire, known by its two ends.
struct WireNote {
    std::string id;
    std::string from, to;
    std::string colour;
    std::optional<Area> area;      ///< of its copper
    std::optional<Length> length;
    std::string connector;
    friend bool operator==(const WireNote&, const WireNote&) = default;
};
/// The wiring as it stood on a day.
struct WiringSnapshot {
    std::string id;
    std::string date;
    std::string name;
    std::string board;
    std::vector<WireNote> wires;
    friend bool operator==(const WiringSnapshot&, const WiringSnapshot&) = default;
};

struct Journal {
    Duration hours{};                         ///< spent
    Duration minutes_saved_per_use{};
    Ratio uses_per_week{};
    std::vector<Entry> entries;
    std::vector<WiringSnapshot> snapshots;
    friend bool operator==(const Journal&, const Journal&) = default;
};

}  // namespace hinge::journal

template <>
struct hinge::Names<hinge::journal::EntryKind> {
    using K = hinge::journal::EntryKind;
    static constexpr std::array all{hinge::Name<K>{K::Note, "note", "note"}, hinge::Name<K>{K::Change, "change", "change"}, hinge::Name<K>{K::Measurement, "measurement", "measurement"},
                                    hinge::Name<K>{K::Failure, "failure", "failure"}, hinge::Name<K>{K::Cost, "cost", "cost"}, hinge::Name<K>{K::Lesson, "lesson", "lesson"}, hinge::Name<K>{K::Run, "run", "run"}};
};
