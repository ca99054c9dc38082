#pragma once
// Incoming inspection: the pieces of a bag that were tried, against their data sheet and against each other.
#include "journal/bag.hpp"
#include "plan/plan.hpp"

namespace hinge::proof {

using kinds::Expected;
/// What to read of a part, by its own figures; those that its data sheet does not give are left out. Where a piece's
/// ten same moves ended and how warm it got are judged besides.
[[nodiscard]] std::vector<Expected> expectedOf(const actuator::Part& part);

/// One piece. Holds: accept. Tight: suspect. Breaks: reject. Unknown: nothing read.
struct JudgedSample {
    std::string id, name, date;
    Verdict verdict = Verdict::Unknown;
    std::vector<std::string> reasons;
    std::optional<double> repeat;  ///< farthest apart that the same move ended, rad or m
    Kind repeat_kind = Kind::Angle;
};
/// One kind of reading over the bag.
struct BagReading {
    Expected expected;
    std::vector<std::optional<double>> readings;  ///< as the samples
    journal::BagSpread spread;
};
struct Bag {
    std::string part, name;  ///< id and words of the part
    std::vector<JudgedSample> samples;
    std::vector<BagReading> readings;
    int accepted = 0, suspect = 0, rejected = 0;
    std::optional<journal::BagShareResult> share;  ///< with nine in ten sure; absent before one was judged
};
/// Every bag of which a piece was tried, in the order of the journal.
[[nodiscard]] std::vector<Bag> inspect(const project::Project& project, const project::Parts& parts);

/// "41.2 deg, 41.5, 41.3": angles, or lengths; a number without a unit takes that of the one before, or after the list's last.
/// @error NotANumber, WrongUnit  naming the entry
struct Places {
    Kind kind = Kind::Angle;
    std::vector<double> values;  ///< SI
};
[[nodiscard]] Result<Places> parsePlaces(std::string_view text);

/// The project with a sample's reading changed; the sample is made where there is none of that id.
/// @param field  "name", "places", "current", "speed", "range", "resistance", "temperature"
/// @error Unknown, NotANumber, WrongUnit, OutOfRange
[[nodiscard]] Result<project::Project> recordSample(project::Project project, const std::string& part, const std::string& id,
                                                    const std::string& field, const std::string& text, const std::string& date);

/// The plan with what the samples say: a part of which a piece was accepted needs no sample first; rejected ones are a finding.
[[nodiscard]] plan::Plan withInspection(plan::Plan plan, const project::Project& project, const std::vector<Bag>& bags);

/// "accept", "suspect", "reject", "nothing read yet".
[[nodiscard]] const char* sampleWord(Verdict verdict);

}  // namespace hinge::proof
