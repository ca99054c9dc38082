#pragma once
#include <array>
#include <optional>
#include <string>
#include <vector>
#include "quantity/dimensions.hpp"
#include "quantity/names.hpp"

namespace hinge::journal {

enum class EntryKind { Note, Change, Measurement, Failure, Cost, Lesson, Run };

/// One line of the journal, dated by whoever writes it.
struct Entry {
    std::string id;
    std::string date;  ///< ISO 8601, "2026-11-24T14:30"
    EntryKind kind = EntryKind::Note;
    std::string channel;  ///< empty: the whole gadget
    std::string text;
    std::string settings;  ///< of a run: "rain_run 3200 ms, rain_duty 1000 permille"
    std::string lesson;
    std::string stage;  ///< of a lesson: where it should come up again, by its id; empty: when the need is written down
    std::string part;   ///< of a failure: the part that is gone, by its id
    std::string photo;  ///< file in the project's photos folder
    std::optional<Ratio> cost;
    friend bool operator==(const Entry&, const Entry&) = default;
};

/// A bring-up step that was done.
struct Check {
    std::string id;       ///< of the step
    std::string reading;  ///< as typed, with its unit
    std::string date;
    std::string skipped;  ///< the reason, when it was skipped
    std::string basis;    ///< what it was taken of: part, driver, rail, pins; when that has changed, it counts no more
    std::string photo;    ///< file in the project's photos folder
    friend bool operator==(const Check&, const Check&) = default;
};

/// What is recorded of one wire, known by its two ends.
struct WireNote {
    std::string id;
    std::string from, to;
    std::string colour;
    std::optional<Area> area;  ///< of its copper
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

/// One piece of a part, tried before it is built in.
struct Sample {
    std::string id;
    std::string part;  ///< of the catalogue, by its id
    std::string name;  ///< what is written on it: "3 of the March bag"
    std::string date;
    std::string places;                      ///< where the same move ended, time after time: "41.2 deg, 41.5 deg"
    std::optional<Current> current;          ///< without load
    std::optional<RotationSpeed> speed;      ///< without load
    std::optional<Angle> range;              ///< from end to end
    std::optional<Resistance> resistance;    ///< of its winding
    std::optional<Temperature> temperature;  ///< of its case, after the run
    friend bool operator==(const Sample&, const Sample&) = default;
};
/// What of a part lies in the drawer, and what to do when there is none.
struct Stock {
    std::string id;  ///< of the part in the catalogue
    Count in_hand{};
    Count spares{};                     ///< wanted beside those that are built in
    std::optional<Duration> lead_time;  ///< from ordering to having
    std::string substitute;             ///< part taken instead, by its id
    friend bool operator==(const Stock&, const Stock&) = default;
};
/// Something that has to be done again and again.
struct Care {
    std::string id;
    std::string channel;  ///< empty: the whole gadget
    std::string what;
    Duration every = of<Duration>(90.0 * 86400.0);
    std::string done;  ///< the last day it was done, "2026-11-26"; empty: never
    friend bool operator==(const Care&, const Care&) = default;
};

struct Journal {
    Duration hours{};  ///< spent
    Ratio shipping{};  ///< paid for posting, in the project's currency
    Duration minutes_saved_per_use{};
    Ratio uses_per_week{};
    std::vector<Entry> entries;
    std::vector<WiringSnapshot> snapshots;
    std::vector<Sample> samples;
    std::vector<Stock> stock;
    std::vector<Care> care;
    friend bool operator==(const Journal&, const Journal&) = default;
};

}  // namespace hinge::journal

template <>
struct hinge::Names<hinge::journal::EntryKind> {
    using K = hinge::journal::EntryKind;
    static constexpr std::array all{hinge::Name<K>{K::Note, "note", "note"},
                                    hinge::Name<K>{K::Change, "change", "change"},
                                    hinge::Name<K>{K::Measurement, "measurement", "measurement"},
                                    hinge::Name<K>{K::Failure, "failure", "failure"},
                                    hinge::Name<K>{K::Cost, "cost", "cost"},
                                    hinge::Name<K>{K::Lesson, "lesson", "lesson"},
                                    hinge::Name<K>{K::Run, "run", "run"}};
};
