#pragma once
// The first power-up in safe steps, each with the reading that the plan expects.
#include <string>
#include <vector>
#include "plan/plan.hpp"

namespace hinge::proof {

/// What the link can read by itself.
enum class OverLink {
    None,
    Frames,  ///< telemetry frames in a second
    Inputs,  ///< inputs that changed both ways while it looked
    Held,    ///< mean counts of a measured input, its channel started by the desk's hand
    OnTime,  ///< how long the channel's output was on, its cue started once
};

/// One hold point.
struct Step {
    std::string id;       ///< stable for a gadget's channel: "rain.running"
    std::string channel;  ///< empty: the whole gadget
    std::string phase;    ///< "Power off", "Supplies alone", …: the order in which nothing is lost
    std::string title;
    std::string what;   ///< what to do
    std::string ready;  ///< what to hold ready
    std::string instrument;
    std::string caution;
    std::string abort;                            ///< when to pull the plug at once
    Kind kind = Kind::Voltage;                    ///< of the reading
    std::optional<double> expected, least, most;  ///< SI; absent: the plan does not know yet
    std::string reason;                           ///< where the range comes from
    OverLink over_link = OverLink::None;
    std::string link_input;  ///< Held: the input that is read
    double link_time = 0.0;  ///< s that it looks for
    // What was taken:
    std::string reading;  ///< as typed
    std::string date;
    std::string skipped;    ///< reason
    std::string photo;      ///< file in the project's photos folder
    std::string basis;      ///< what it is taken of now: part, driver, rail, pins
    bool reopened = false;  ///< it was taken, and what it was taken of has changed since
    Verdict verdict = Verdict::Unknown;
};

/// All hold points in their order, with what the project has recorded of them.
[[nodiscard]] std::vector<Step> bringUp(const project::Project& project, const project::Parts& parts, const plan::Plan& plan);

/// Judges a reading against a step's range.
/// @error NotANumber, WrongUnit  the text is no reading of that kind
[[nodiscard]] Result<Verdict> judge(const Step& step, std::string_view reading);

/// Where the reading should fall, in words: "4.75 V to 5.25 V", "exactly 3", "not known yet".
[[nodiscard]] std::string rangeText(const Step& step);

/// The reading recorded, in SI; nullopt without one.
[[nodiscard]] std::optional<double> readingOf(const Step& step);
/// The span a scale should show: the range with room on both sides, and the reading.
struct Scale {
    double low = 0.0;
    double high = 1.0;
};
/// Needs step.least and step.most.
[[nodiscard]] Scale scaleOf(const Step& step, std::optional<double> reading);

/// The plan with its Prove cells filled from the steps.
[[nodiscard]] plan::Plan withProof(plan::Plan plan, const std::vector<Step>& steps);

/// The project with a reading recorded (or a skip, with its reason). Also writes a journal entry.
/// @param date  ISO 8601, given by the caller
[[nodiscard]] project::Project record(project::Project project, const Step& step, const std::string& reading, const std::string& skipped,
                                      const std::string& date);
/// The project with a photo attached to a step; a step without a reading keeps it for its reading.
/// @param photo  file in the project's photos folder; empty takes it away
[[nodiscard]] project::Project attachPhoto(project::Project project, const Step& step, const std::string& photo, const std::string& date);

}  // namespace hinge::proof
