#include "proof/fit_sheet.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "board/family.hpp"
#include "demand/mechanical_fit.hpp"
#include "power/box_heat.hpp"
#include "proof/cell_mark.hpp"
#include "quantity/constants.hpp"
#include "quantity/text.hpp"

namespace hinge::proof {
namespace {

class Sheet {
public:
    Sheet(const project::Project& project, const project::Parts& parts, const plan::Plan& plan)
        : project_{project}, parts_{parts}, plan_{plan} {}
    FitSheet out;

    void box() {
        const auto& brief = project_.brief;
        out.heat = heatInside();
        if (!brief.box_width || !brief.box_height || !brief.box_depth) return;
        const auto worked =
            power::boxTemperature({out.heat, *brief.box_width, *brief.box_height, *brief.box_depth, brief.ambient, of<Fraction>(0.9)});
        if (!worked) return;
        out.inside = worked->result.inside;
        const double celsius = si(*out.inside) - 273.15;
        const Verdict verdict = celsius <= 50.0 ? Verdict::Holds : celsius <= 60.0 ? Verdict::Tight : Verdict::Breaks;
        line("", "air inside the case", fmt::format("{}, {} given off inside", display(*out.inside), display(out.heat)),
             "thermometer through a hole, after an hour of the whole routine", verdict,
             verdict == Verdict::Holds
                 ? ""
                 : "Above 50 °C electrolytic capacitors age fast and prints creep. Openings low and high, a larger case, or less current.");
        keep("", "The case", worked->steps);
    }

    void channel(const project::Channel& channel) {
        const auto* planned = plan::findChannel(plan_, channel.id);
        if (planned == nullptr) return;
        horn(channel, *planned);
        shaft(channel);
        screw(channel);
        belt(channel);
        arm(channel);
        opening(channel);
    }

private:
    void line(std::string channel, std::string what, std::string figure, std::string check, Verdict verdict, std::string why = {}) {
        out.lines.push_back({std::move(channel), std::move(what), std::move(figure), std::move(check), std::move(why), verdict});
    }
    template <class S>
    void keep(const std::string& channel, const std::string& title, const S& steps) {
        plan::ShownWorking shown;
        shown.channel = channel;
        shown.title = title;
        shown.steps = steps;
        out.workings.push_back(std::move(shown));
    }
    static std::string whyOf(const std::vector<Finding>& findings) { return findings.empty() ? std::string{} : findings.front().text; }

    // Board, regulators and drivers sit in the case; what moves may not, and counts for nothing.
    [[nodiscard]] Power heatInside() const {
        const auto& family = board::family(project_.board.form);
        double watts = family.own_current * family.logic;
        for (const auto& channel : plan_.channels)
            if (channel.chosen && channel.chosen->heat) watts += si(*channel.chosen->heat);
        for (const auto& rail : project_.rails) {
            const auto planned =
                std::find_if(plan_.rails.begin(), plan_.rails.end(), [&](const plan::RailPlan& each) { return each.id == rail.id; });
            if (planned == plan_.rails.end() || !planned->running || !planned->voltage) continue;
            const double volts = si(*planned->voltage), amps = si(*planned->running);
            if (rail.also_draws) watts += volts * si(*rail.also_draws);  // what else hangs on it sits in the case too
            if (rail.conversion == power::Conversion::Buck) watts += volts * amps * (1.0 / si(rail.efficiency) - 1.0);
            if (rail.conversion == power::Conversion::Linear)
                for (const auto& source : project_.sources)
                    if (source.id == rail.from && source.voltage) watts += (si(*source.voltage) - volts) * amps;
        }
        return of<Power>(watts);
    }

    void horn(const project::Channel& channel, const plan::ChannelPlan& planned) {
        const auto& motion = planned.motion;
        if (planned.signal != plan::SignalKind::ServoPulse || !motion.pulse_from || !motion.pulse_to || !motion.pulse_per_angle ||
            *motion.pulse_per_angle == 0.0)
            return;
        const double middle = 1.5e-3, rest = (middle - si(*motion.pulse_from)) / *motion.pulse_per_angle;
        const double tooth = 360.0 / 25.0 * constants::degree;
        Verdict verdict = Verdict::Unknown;
        std::string why;
        if (channel.fit.horn_rest) {
            const double off = std::abs(si(*channel.fit.horn_rest) - rest);
            verdict = off <= 0.5 * tooth + 1e-9 ? Verdict::Holds : off <= tooth ? Verdict::Tight : Verdict::Breaks;
            if (verdict != Verdict::Holds)
                why = fmt::format("It stands {} off. Take the horn off, send 1.5 ms, and put it back {:.0f} of its 25 teeth farther.",
                                  display(Kind::Angle, off), std::max(1.0, std::round(off / tooth)));
        }
        line(channel.id, "horn at the middle pulse", fmt::format("{} from the start of its move at 1.50 ms", display(Kind::Angle, rest)),
             "send 1.5 ms with the horn off, then fit it", verdict, why);
        const auto& c = channel.calibration;
        if (c.pulse_min && c.pulse_max) {
            const double low = std::min(si(*motion.pulse_from), si(*motion.pulse_to)),
                         high = std::max(si(*motion.pulse_from), si(*motion.pulse_to));
            const double below = (low - si(*c.pulse_min)) / std::abs(*motion.pulse_per_angle),
                         above = (si(*c.pulse_max) - high) / std::abs(*motion.pulse_per_angle);
            const double least = std::min(below, above);
            line(channel.id, "travel left",
                 fmt::format("{} at one end, {} at the other", display(Kind::Angle, below), display(Kind::Angle, above)),
                 "drive it to both ends from Tune, horn on, nothing coupled",
                 least < 0.0                       ? Verdict::Breaks
                 : least < 5.0 * constants::degree ? Verdict::Tight
                                                   : Verdict::Holds,
                 least < 0.0                       ? "Its move goes past where it strains. Turn the horn, or move less."
                 : least < 5.0 * constants::degree ? "Less than 5° before it strains: a slipped tooth stalls it."
                                                   : "");
        } else {
            line(channel.id, "travel left", "", "find where it strains at both ends, horn off: Tune, Calibrate", Verdict::Unknown);
        }
        lock(channel);
    }

    void lock(const project::Channel& channel) {
        const auto& air = channel.fit.clearance;
        Verdict verdict = Verdict::Unknown;
        if (air) verdict = si(*air) <= 0.0 ? Verdict::Breaks : si(*air) < 1e-3 ? Verdict::Tight : Verdict::Holds;
        line(channel.id, "air at full lock", air ? display(*air) : "", "feeler gauge at both ends, driven by hand with the power off",
             verdict,
             verdict == Verdict::Breaks  ? "It touches: the motor stalls there, and something bends."
             : verdict == Verdict::Tight ? "Under 1 mm a warm day or a loose screw closes it."
                                         : "");
    }

    void shaft(const project::Channel& channel) {
        const auto& fit = channel.fit;
        if (!fit.shaft && !fit.hub) return;
        if (!fit.shaft || !fit.hub)
            return line(channel.id, "shaft in its hub", "", "caliper: how far the shaft stands out, how deep the hub is", Verdict::Unknown);
        const double share = si(*fit.shaft) / si(*fit.hub);
        const Verdict verdict = share < 0.5                                           ? Verdict::Breaks
                                : share < 0.8 || si(*fit.shaft) > si(*fit.hub) + 1e-3 ? Verdict::Tight
                                                                                      : Verdict::Holds;
        line(channel.id, "shaft in its hub",
             fmt::format("{} of {}", display(Kind::Length, std::min(si(*fit.shaft), si(*fit.hub))), display(*fit.hub)),
             "push it on by hand; it must not touch the motor's face", verdict,
             share < 0.8 ? "Too little of the hub holds: it works loose or splits."
             : si(*fit.shaft) > si(*fit.hub) + 1e-3
                 ? "The shaft is longer than the hub is deep: the wheel stands off, and its screw meets the shaft's end."
                 : "");
    }

    void screw(const project::Channel& channel) {
        const auto& fit = channel.fit;
        if (!fit.clamped || !fit.screw_diameter) return;
        const auto worked = demand::screwLength(
            {*fit.clamped, *fit.screw_diameter, fit.screw_in_plastic ? demand::Thread::Plastic : demand::Thread::Metal, fit.screw});
        if (!worked) return;
        const auto& r = worked->result;
        line(channel.id, "its screws",
             fmt::format("M{} × {}{}", significant(si(*fit.screw_diameter) * 1e3, 2), r.standard ? display(*r.standard) : display(r.needed),
                         fit.screw ? ", at hand " + display(*fit.screw) : ""),
             "turn one in by hand: it must turn as often as it is thick, twice in plastic, before it holds",
             fit.screw ? worked->verdict : Verdict::Holds, whyOf(worked->findings));
        keep(channel.id, channel.name + ": screws", worked->steps);
    }

    void belt(const project::Channel& channel) {
        const auto& fit = channel.fit;
        const auto* move = std::get_if<project::MoveDemand>(&channel.demand);
        const bool toothed = move != nullptr && move->way == project::MoveWay::Belt;
        if (!toothed && !fit.centres) return;
        // A carriage's belt runs round two alike pulleys, unless something else is said.
        const auto driving = fit.driving_teeth ? fit.driving_teeth : toothed ? move->pulley_teeth : std::nullopt;
        const auto driven = fit.driven_teeth ? fit.driven_teeth : toothed ? driving : std::nullopt;
        const double tooth = fit.tooth_pitch ? si(*fit.tooth_pitch) : toothed && move->belt_pitch ? si(*move->belt_pitch) : 0.0;
        if (!fit.centres || !driving || !driven || tooth == 0.0)
            return line(channel.id, "belt", "", "the distance between the pulleys and their teeth", Verdict::Unknown);
        const auto worked = demand::beltLength({*driving, *driven, of<Length>(tooth), *fit.centres});
        if (!worked) return line(channel.id, "belt", "", "", Verdict::Breaks, sentence(worked.error()));
        const auto& r = worked->result;
        line(channel.id, "belt",
             fmt::format("{:.0f} teeth, {}; pulleys {} apart when tight", si(r.belt_teeth),
                         display(Kind::Length, si(r.belt_teeth) * tooth, 4), display(r.belt_centres, 4)),
             "slots of 5 mm to tighten it; plucked, the long side hums", worked->verdict, whyOf(worked->findings));
        keep(channel.id, channel.name + ": belt", worked->steps);
    }

    void arm(const project::Channel& channel) {
        const auto& fit = channel.fit;
        if (fit.print == demand::Print::None) return;
        const auto air = out.inside && project_.brief.place == project::Place::ClosedBox ? *out.inside : project_.brief.ambient;
        const auto torque = stallTorqueAtLoad(channel, parts_);
        const auto figures = demand::figuresOf(fit.print);
        if (project_.brief.place == project::Place::Outdoors && figures && !figures->sun)
            line(channel.id, "print in the sun", std::string{labelOf(fit.print)}, "a dark part in the sun is some 20 K warmer than the air",
                 Verdict::Tight, fmt::format("{} goes brittle in the sun within years. ASA stands it, or paint it.", labelOf(fit.print)));
        if (!fit.arm || !fit.arm_width || !fit.arm_height || !torque)
            return line(channel.id, "printed arm", std::string{labelOf(fit.print)},
                        torque ? "its three sizes, by caliper at its root" : "the stall torque of what drives it", Verdict::Unknown);
        const auto worked = demand::printedArm({*torque, *fit.arm, *fit.arm_width, *fit.arm_height, fit.wall, fit.infill, fit.print, air,
                                                demand::Layers::Along, of<Ratio>(3.0)});
        if (!worked) return line(channel.id, "printed arm", std::string{labelOf(fit.print)}, "", Verdict::Breaks, sentence(worked.error()));
        const auto& r = worked->result;
        line(channel.id, "printed arm",
             fmt::format("{}, {} filled: {:.1f} of {:.1f} MPa at its root when held fast, gives way {}", labelOf(fit.print),
                         displayPlain(Kind::Fraction, si(fit.infill)), si(r.stress) / 1e6, si(r.allowed) / 1e6, display(r.sag)),
             "print it lying down, so that the pull goes along its layers; hang the stall torque on it before you glue anything",
             worked->verdict, whyOf(worked->findings));
        keep(channel.id, channel.name + ": printed arm", worked->steps);
    }

    void opening(const project::Channel& channel) {
        const auto& fit = channel.fit;
        if (!fit.cable && !fit.opening) return;
        if (!fit.cable || !fit.opening)
            return line(channel.id, "cable through the case", "", "caliper across the cable and the opening", Verdict::Unknown);
        const double gap = si(*fit.opening) - si(*fit.cable);
        const bool wet = project_.brief.place == project::Place::Wet || project_.brief.place == project::Place::Outdoors;
        const Verdict verdict = gap < 0.0 ? Verdict::Breaks : wet && gap > 1e-3 ? Verdict::Tight : Verdict::Holds;
        line(channel.id, "cable through the case", fmt::format("{} in {}", display(*fit.cable), display(*fit.opening)),
             wet ? "gland on the underside, a loop below it so that water drips off"
                 : "a grommet, and a knot or clip inside so that a pull does not reach the joint",
             verdict,
             gap < 0.0                   ? "It does not go through."
             : verdict == Verdict::Tight ? "Water runs along a cable: take a gland that closes round it."
                                         : "");
    }

    const project::Project& project_;
    const project::Parts& parts_;
    const plan::Plan& plan_;
};

}  // namespace

std::optional<Torque> stallTorqueAtLoad(const project::Channel& channel, const project::Parts& parts) {
    const auto* part = project::findActuator(parts, channel.actuator);
    if (part == nullptr) return std::nullopt;
    const auto torque = kinds::actuatorKind(*part).stall_torque(*part);
    if (!torque) return std::nullopt;
    return of<Torque>(*torque * si(channel.drive.gear_ratio));
}

bool fitApplies(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, const std::string& channel,
                std::string_view fact) {
    const auto* decided = project::findChannel(project, channel);
    const auto* planned = plan::findChannel(plan, channel);
    if (decided == nullptr || planned == nullptr) return false;
    const bool turns = stallTorqueAtLoad(*decided, parts).has_value();
    const auto* move = std::get_if<project::MoveDemand>(&decided->demand);
    if (fact == "horn_rest" || fact == "clearance") return planned->signal == plan::SignalKind::ServoPulse;
    if (fact == "shaft" || fact == "hub" || fact == "print") return turns;
    if (fact == "infill" || fact == "wall" || fact.starts_with("arm")) return turns && decided->fit.print != demand::Print::None;
    if (fact == "centres" || fact == "driving_teeth" || fact == "driven_teeth" || fact == "tooth_pitch")
        return turns &&
               ((move != nullptr && move->way == project::MoveWay::Belt) || decided->fit.centres || si(decided->drive.gear_ratio) != 1.0);
    return true;
}

FitSheet fitSheet(const project::Project& project, const project::Parts& parts, const plan::Plan& plan) {
    Sheet sheet(project, parts, plan);
    sheet.box();
    for (const auto& channel : project.channels) sheet.channel(channel);
    return std::move(sheet.out);
}

plan::Plan withFit(plan::Plan plan, const FitSheet& sheet) {
    for (const auto& line : sheet.lines) {
        if (line.verdict != Verdict::Breaks && line.verdict != Verdict::Tight) continue;
        const bool breaks = line.verdict == Verdict::Breaks;
        std::string name = "The case";
        for (const auto& channel : plan.channels)
            if (channel.id == line.channel) name = channel.name;
        plan.findings.push_back({"does-not-fit",
                                 breaks ? Severity::Stop : Severity::Warn,
                                 project::Stage::Prove,
                                 line.channel,
                                 fmt::format("{}, {}: {}", name, line.what, line.why),
                                 {}});
        ++(breaks ? plan.headline.breaks : plan.headline.tight);
        markProved(plan, line.channel, line.verdict);
        if (breaks) plan.verdict = Verdict::Breaks;
    }
    return plan;
}

}  // namespace hinge::proof
