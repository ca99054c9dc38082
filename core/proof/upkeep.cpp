#include "proof/upkeep.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <chrono>
#include <cmath>
#include "plan/firmware_model.hpp"
#include "plan/supply.hpp"
#include "quantity/text.hpp"
#include "timing/time_of_day.hpp"

namespace hinge::proof {
namespace {

constexpr double day = 86'400.0;
constexpr double brush_life = 500.0 * 3600.0;  // s, small brushed motors: common practice, no published source
constexpr double contact_life = 100'000.0;     // switchings at the rated load: common practice, no published source

// How often a cue begins in a day.
std::optional<double> startsADay(const project::Project& project, const routine::Cue& cue, int depth = 0) {
    double starts = 0.0;
    bool known = false;
    if (const auto times = timing::parseTimesOfDay(cue.times); times && !times->empty())
        starts += static_cast<double>(times->size()), known = true;
    if (cue.every) starts += day / si(*cue.every), known = true;
    if (!cue.after.empty() && depth < 20)
        for (const auto& other : project.routine.cues)
            if (other.id == cue.after)
                if (const auto before = startsADay(project, other, depth + 1)) starts += *before, known = true;
    const auto* input = project::findInput(project, cue.input);
    if (input != nullptr && si(project.journal.uses_per_week) > 0.0) starts += si(project.journal.uses_per_week) / 7.0, known = true;
    return known ? std::optional(starts) : std::nullopt;
}

// Rounded to what a person would put down: weeks below two months, else months; once a year at least, for nobody remembers longer.
double tidy(double seconds) {
    const double days = seconds / day;
    if (days < 60.0) return std::max(7.0, std::round(days / 7.0) * 7.0) * day;
    return std::min(360.0, std::round(days / 30.0) * 30.0) * day;
}

class Proposals {
public:
    explicit Proposals(const project::Project& project) : project_{project} {}
    std::vector<Due> list;
    void add(const std::string& channel, std::string what, double every, std::string reason) {
        for (const auto& decided : project_.journal.care)
            if (decided.channel == channel && decided.what == what) return;
        Due due;
        due.care.channel = channel;
        due.care.what = std::move(what);
        due.care.every = of<Duration>(every);
        due.proposed = true;
        due.reason = std::move(reason);
        list.push_back(std::move(due));
    }

private:
    const project::Project& project_;
};

}  // namespace

timing::Date daysAfter(timing::Date date, int days) {
    namespace sc = std::chrono;
    const sc::year_month_day from{sc::year{date.year}, sc::month{static_cast<unsigned>(date.month)},
                                  sc::day{static_cast<unsigned>(date.day)}};
    const sc::year_month_day to{sc::sys_days{from} + sc::days{days}};
    return {static_cast<int>(to.year()), static_cast<int>(static_cast<unsigned>(to.month())),
            static_cast<int>(static_cast<unsigned>(to.day()))};
}

std::optional<Duration> onADay(const project::Project& project, const plan::Plan& plan, const std::string& channel) {
    if (!plan.program || !plan.profiles) return std::nullopt;
    const auto driven = plan::drivenChannels(project, plan);
    const auto at = std::find_if(driven.begin(), driven.end(), [&](const project::Channel* each) { return each->id == channel; });
    if (at == driven.end()) return std::nullopt;
    const auto output = static_cast<std::size_t>(at - driven.begin());
    std::optional<double> seconds;
    for (const auto& profile : plan.profiles->profiles) {
        if (profile.tail || profile.cue < 0 || static_cast<std::size_t>(profile.cue) >= project.routine.cues.size()) continue;
        double on = 0.0;
        for (std::size_t i = 0; i + 1 < profile.changes.size(); ++i) {
            const auto phase = output < profile.changes[i].phases.size() ? profile.changes[i].phases[output] : plan::Phase::Off;
            if (phase == plan::Phase::On || phase == plan::Phase::Moving) on += profile.changes[i + 1].time - profile.changes[i].time;
        }
        if (on == 0.0) continue;
        if (const auto starts = startsADay(project, project.routine.cues[static_cast<std::size_t>(profile.cue)]))
            seconds = seconds.value_or(0.0) + on * *starts;
    }
    if (!seconds) return std::nullopt;
    return of<Duration>(std::min(*seconds, day));
}

std::vector<Due> careDue(const std::vector<journal::Care>& care, const timing::Date& today) {
    std::vector<Due> list;
    for (const auto& each : care) {
        Due due;
        due.care = each;
        if (const auto done = timing::parseDate(std::string_view{each.done}.substr(0, 10)); done && !each.done.empty()) {
            due.next = daysAfter(*done, static_cast<int>(std::lround(si(each.every) / day)));
            due.days = timing::dayNumber(*due.next) - timing::dayNumber(today);
            due.verdict = *due.days < 0 ? Verdict::Breaks : *due.days <= 14 ? Verdict::Tight : Verdict::Holds;
        }
        list.push_back(std::move(due));
    }
    // Never done stands before what is not due yet, behind what is overdue.
    std::stable_sort(list.begin(), list.end(), [](const Due& a, const Due& b) { return a.days.value_or(0) < b.days.value_or(0); });
    return list;
}

std::vector<Due> careProposed(const project::Project& project, const project::Parts& parts, const plan::Plan& plan) {
    Proposals out(project);
    const bool wet = project.brief.place == project::Place::Wet || project.brief.place == project::Place::Outdoors;
    for (const auto& channel : project.channels) {
        const std::string& id = channel.id;
        const auto on = onADay(project, plan, id);
        const auto kind = project::channelKind(channel);
        const auto* part = project::findActuator(parts, channel.actuator);
        const auto* driver = project::findDriver(parts, channel.drive.part);
        if (part != nullptr && kinds::actuatorKind(*part).is("brushed")) {
            const bool known = on && si(*on) > 0.0;
            out.add(id, "listen to its brushes and feel its play", known ? tidy(brush_life / si(*on) * day / 2.0) : 180.0 * day,
                    known ? fmt::format("it runs {} a day; small brushes last some 500 h, half of that is looked at", display(*on, 2))
                          : "small brushes last some 500 h");
        }
        if (kind == project::ChannelKind::Blow)
            out.add(id, "brush the dust off its blades and grille", 90.0 * day, "dust takes air and unbalances the blades");
        if (kind == project::ChannelKind::Pump)
            out.add(id, "rinse it, clear its strainer, look for lime and leaks", 30.0 * day, "standing water grows things");
        if (const auto* move = std::get_if<project::MoveDemand>(&channel.demand)) {
            if (move->way == project::MoveWay::Belt)
                out.add(id, "tension of the belt, dust from its teeth", 180.0 * day, "a new belt stretches, an old one sheds");
            if (move->way == project::MoveWay::Screw) out.add(id, "grease its screw", 180.0 * day, "a dry screw takes twice the torque");
        }
        if (kind == project::ChannelKind::Turn && part != nullptr && kinds::actuatorKind(*part).is("servo"))
            out.add(id, "screw of its horn", 180.0 * day, "it works loose, and the move with it");
        if (kind == project::ChannelKind::Heat)
            out.add(id, "trip its independent cut-out and see that it trips", 90.0 * day, "it is never used until it is needed");
        if (driver != nullptr && kinds::driverKind(*driver).contact) {
            double switchings = 0.0;
            if (const auto* load = std::get_if<project::SwitchDemand>(&channel.demand)) switchings = si(load->switchings_per_day);
            out.add(id, "its relay: does it still open?", switchings > 0.0 ? tidy(contact_life / switchings * day / 2.0) : 365.0 * day,
                    switchings > 0.0 ? fmt::format("{:.3g} switchings a day; a contact lasts some 100 000 at its rated load", switchings)
                                     : "contacts wear with every switching");
        }
    }
    for (const auto& source : project.sources)
        if (source.kind == power::SourceKind::Battery)
            out.add("", "cells: volts under load, warmth, swelling", 90.0 * day, "a cell that swells is taken out at once, outdoors");
    if (project.board.clock != project::BusClock::None)
        out.add("", "change the clock's battery", 3.0 * 365.0 * day, "when it is empty, the time is lost at the next power cut");
    out.add("", "screw terminals and plugs: pull at each wire", 180.0 * day, "copper settles; most faults are joints");
    if (wet) out.add("", "glands, drip loops, green copper", 90.0 * day, "water finds its way along cables");
    return std::move(out.list);
}

project::Project careDone(project::Project project, const journal::Care& care, const std::string& date) {
    auto& list = project.journal.care;
    auto at = std::find_if(list.begin(), list.end(), [&](const journal::Care& each) {
        return !care.id.empty() ? each.id == care.id : each.channel == care.channel && each.what == care.what;
    });
    if (at == list.end()) {
        std::vector<std::string> taken;
        for (const auto& each : list) taken.push_back(each.id);
        journal::Care made = care;
        made.id = project::freshId("care", taken);
        list.push_back(std::move(made));
        at = list.end() - 1;
    }
    if (date.empty()) return project;
    at->done = date;
    auto entry = project::newEntry(project, "care", journal::EntryKind::Note, care.channel, date);
    entry.text = "Done: " + at->what;
    project.journal.entries.push_back(std::move(entry));
    return project;
}

}  // namespace hinge::proof
