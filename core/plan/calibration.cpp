#include "plan/calibration.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "match/judge.hpp"
#include "plan/firmware_model.hpp"
#include "quantity/text.hpp"
#include "routine/program.hpp"

namespace hinge::plan {
// One list in the order in which to do them: a block a run, what it asks for and its words.
std::vector<CalibrationRun> calibrationsFor(const project::Project& project, const project::Parts& parts, const Plan& plan,
                                            std::string_view id) {
    std::vector<CalibrationRun> list;
    const auto* channel = project::findChannel(project, id);
    const auto* planned = findChannel(plan, id);
    if (channel == nullptr || planned == nullptr) return list;
    const auto* part = match::partOf(planned->context, parts, channel->actuator);
    if (part == nullptr) return list;
    const std::string path = "channels/" + channel->id + "/calibration/";
    const auto* input = project::readingOf(project, id);
    const bool driven = isDriven(*planned);
    const auto can = [&](std::string_view run) { return kinds::actuatorKind(*part).canRun(run); };
    if (can("servo-still") && planned->signal == SignalKind::SpeedPulse && driven)
        list.push_back(
            {"servo-still",
             "The pulse at which it stands still",
             "Off is a pulse too: a few microseconds beside it, and it creeps for as long as it has power.",
             "It may turn at once: nothing in its way, hand on the switch.",
             {{Does::Tell,
               fmt::format("Let no cue run. On the link's list of numbers change {}_still, two at a time, until it creeps neither "
                           "way. Where it has a trimmer, leave 3000 and turn that instead.",
                           routine::symbol(channel->id)),
               0, 0, "", "", Kind::Ratio, 1.0},
              {Does::Type, "At which number does it stand still? Type half of it, in µs.", 0, 0, "", path + "pulse_stop", Kind::Duration,
               1.0}}});
    if (can("servo-ends") && planned->signal == SignalKind::ServoPulse && driven) {
        const double from = routine::servo_least, to = routine::servo_most;
        list.push_back({"servo-ends",
                        "End points and middle, before the horn goes on",
                        "Which pulse makes which angle is not printed anywhere.",
                        "Horn off. One servo at a time: the others unplugged. Stop as soon as it strains or hums, and come back a little.",
                        {{Does::Tell, "Take the horn off. Unplug the other servos.", 0, 0, "", "", Kind::Ratio, 1.0},
                         {Does::Nudge, "Go down slowly until it strains, then back a little: one end.", from, to, "", path + "pulse_min",
                          Kind::Duration, 0.5e-6},
                         {Does::Nudge, "Go up slowly until it strains, then back a little: the other end.", from, to, "",
                          path + "pulse_max", Kind::Duration, 0.5e-6},
                         {Does::Tell, "It goes to the middle of both. Press the horn on there, as the fit sheet says.", 0, 0, "", "",
                          Kind::Ratio, 1.0}}});
    }
    if (can("duty-sweep") && driven && input != nullptr && input->kind == project::InputKind::Tach)
        list.push_back({"duty-sweep",
                        "Start duty, dead band and curve",
                        "Below its start duty a motor only hums and a fan stands: that part of a knob's way is dead.",
                        "It will turn at full power. Fingers, hair and cables away from it; the supply's switch in your hand.",
                        {{Does::Sweep, "From nothing to full power in twenty steps, and down again.", 0, 0, input->id, path + "speed_curve",
                          Kind::Ratio, 1.0}}});
    // Nothing on the mains is turned by hand.
    if (input != nullptr && input->kind == project::InputKind::Tach && !onMains(*channel))
        list.push_back({"tach-scale",
                        "Pulses a turn",
                        "Counts become rpm only by what one turn gives.",
                        "The power to what turns is off: it is turned by hand.",
                        {{Does::Type, "Mark the rim. Turn it ten times by hand and count the pulses on the link; type a tenth of them.", 0,
                          0, "", "inputs/" + input->id + "/per_turn", Kind::Ratio, 1.0}}});
    if (input != nullptr && project::isAnalogue(input->kind) && input->measures != project::Measures::Counts) {
        const std::string to = "inputs/" + input->id + "/";
        list.push_back(
            {"two-points",
             "Scale by two points",
             fmt::format("What {} means is a straight line through two readings, the farther apart the better.", input->name),
             "Hot water scalds; keep the board and its wires dry.",
             {{Does::TakeReading, "Bring it to one known state, say melting ice, or level. Wait until the reading rests.", 0, 0, input->id,
               to + "reading_a", Kind::Count, 1.0},
              {Does::Type, "What does your instrument say there? (in K, rad, m or A)", 0, 0, "", to + "value_a", Kind::Ratio, 1.0},
              {Does::TakeReading, "Now another state, far from it.", 0, 0, input->id, to + "reading_b", Kind::Count, 1.0},
              {Does::Type, "And there?", 0, 0, "", to + "value_b", Kind::Ratio, 1.0}}});
    }
    for (const auto& loop : project.routine.loops)
        if (loop.channel == id && input != nullptr && project::isAnalogue(input->kind) && can("balance-angle"))
            list.push_back({"balance-angle",
                            "The reading at which it stands",
                            "The sensor is never quite upright when it is glued in.",
                            "Motors off: it is held by hand.",
                            {{Does::TakeReading, "Hold it where it just does not want to fall to either side.", 0, 0, input->id,
                              "routine/loops/" + loop.id + "/wanted", Kind::Count, 1.0}}});
    const bool rolls = input != nullptr && can("balance-angle");
    if (can("there-and-back") && driven && !rolls) {
        if (isPlaced(*planned))
            list.push_back(
                {"there-and-back",
                 "Highest rate without a lost step",
                 "A stepper that loses steps does not know it.",
                 "It moves its whole way, faster and faster. Nothing may stand in its way; hand on the switch.",
                 {{Does::Tell, "Stand it at the start of its way, and put a mark there.", 0, 0, "", "", Kind::Ratio, 1.0},
                  {Does::ThereAndBack, "Out and back. Is it on its mark again?", 0, 0, "", path + "highest_rate", Kind::Frequency, 1.0}}});
        list.push_back({"chopper-heat",
                        "Chopper's temperature against its current",
                        "The rise goes with the square of the current: one measurement tells all others.",
                        "The chopper's chip can be hotter than boiling water. Use a thermometer, not a finger.",
                        {{Does::Type, "Set a current, and let it hold for three minutes. Which peak current?", 0, 0, "",
                          path + "chopper_current", Kind::Current, 1.0},
                         {Does::Type, "How warm is its chip now?", 0, 0, "", path + "chopper_temperature", Kind::Temperature, 1.0}}});
    }
    if (can("cup-and-clock") && driven)
        list.push_back(
            {"cup-and-clock",
             "Flow by cup and clock",
             "What comes out of this tube, at this height, with this pump.",
             "Water near electricity: board and supply above the tank, a drip loop in every wire.",
             {{Does::RunFor, "Cup under the outlet. It runs for ten seconds.", 10.0, 0, "", path + "cup_time", Kind::Duration, 1.0},
              {Does::Type, "How much is in the cup? A kitchen scale says it: 1 g is 1 mL.", 0, 0, "", path + "cup_volume", Kind::Volume,
               1.0}}});
    if (can("stall") && driven) {
        list.push_back({"stall",
                        "Current held fast",
                        "What a jam draws is what driver, fuse and wire must bear, or what must trip.",
                        "One second, no longer: what is held fast burns. Hold it by a strap, not by hand; pinching and burning hurt.",
                        {{Does::Tell, "Meter in the supply's wire, on amps. Hold it fast by a strap.", 0, 0, "", "", Kind::Ratio, 1.0},
                         {Does::RunFor, "It pushes for one second.", 1.0, 0, "", "", Kind::Duration, 1.0},
                         {Does::Type, "What did the meter show?", 0, 0, "", path + "stall_current", Kind::Current, 1.0}}});
        list.push_back({"jams-slow",
                        "The speed below which portions jam",
                        "Slow is not always gentle: what flows when it is quick can bridge when it is slow.",
                        "Moving parts pinch. Clear a jam only with the power off.",
                        {{Does::Nudge, "With its portions in, go down from full power. Stop where one first sticks.", 0.0, 1000.0, "",
                          path + "jams_below", Kind::Fraction, 1e-3}}});
    }
    return list;
}

SweepResult readSweep(const std::vector<SweepPoint>& points) {
    SweepResult result;
    for (const auto& point : points) result.most = std::max(result.most, point.reading);
    const double turns = result.most / 20.0;
    if (result.most <= 0.0) return result;
    for (const auto& point : points) {
        if (point.rising && point.reading > turns && (!result.start || point.share < *result.start)) result.start = point.share;
        if (!point.rising && point.reading > turns && (!result.keep || point.share < *result.keep)) result.keep = point.share;
    }
    if (!result.start || *result.start >= 1.0) return result;
    double at_start = result.most;
    for (const auto& point : points)
        if (point.rising && point.share == *result.start) at_start = point.reading;
    for (const auto& point : points) {
        if (!point.rising || point.share < *result.start) continue;
        const double line = at_start + (result.most - at_start) * (point.share - *result.start) / (1.0 - *result.start);
        result.bend = std::max(result.bend, std::abs(point.reading - line) / result.most);
    }
    return result;
}

std::string sweepText(const std::vector<SweepPoint>& points) {
    std::vector<std::string> rising;
    for (const auto& point : points)
        if (point.rising) rising.push_back(exactNumber(point.share) + ":" + exactNumber(point.reading));
    return joined(rising, ",");
}

std::vector<SweepPoint> sweepPoints(const std::string& text) {
    std::vector<SweepPoint> list;
    std::string_view left = text;
    while (!left.empty()) {
        const auto end = std::min(left.find(','), left.size());
        const auto pair = left.substr(0, end);
        left.remove_prefix(std::min(end + 1, left.size()));
        const auto colon = pair.find(':');
        if (colon == std::string_view::npos) continue;
        const auto share = parseNumber(pair.substr(0, colon)), reading = parseNumber(pair.substr(colon + 1));
        if (share && reading) list.push_back({*share, *reading, true});
    }
    return list;
}

}  // namespace hinge::plan
