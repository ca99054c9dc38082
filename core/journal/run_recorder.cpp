#include "journal/run_recorder.hpp"
#include <fmt/format.h>
#include <chrono>
#include <cmath>
#include "quantity/csv.hpp"
#include "quantity/text.hpp"

namespace hinge::journal {
namespace {

std::string together(const std::vector<std::string>& names, const std::vector<bool>& which) {
    std::vector<std::string> those;
    for (std::size_t k = 0; k < which.size() && k < names.size(); ++k)
        if (which[k]) those.push_back(names[k]);
    return joined(those, " and ");
}

std::string dateTime(double seconds) {
    namespace sc = std::chrono;
    const auto whole = std::llround(std::floor(seconds));
    const sc::sys_days first{sc::year{2000} / 1 / 1};
    const auto days = sc::floor<sc::days>(sc::seconds{whole});
    const sc::year_month_day date{first + days};
    const auto rest = whole - sc::duration_cast<sc::seconds>(days).count();
    return fmt::format("{:04}-{:02}-{:02}T{:02}:{:02}:{:02}", static_cast<int>(date.year()), static_cast<unsigned>(date.month()),
                       static_cast<unsigned>(date.day()), rest / 3600, rest / 60 % 60, rest % 60);
}

}  // namespace

RunRow RunRecorder::close(std::size_t output, double board_time) {
    auto& run = runs_[output];
    RunRow row;
    row.time = run.began;
    row.trigger = run.trigger;
    row.action = outputs_[output];
    row.duration = std::max(0.0, board_time - run.since);
    row.current = run.current;
    run = {};
    return row;
}

std::vector<RunRow> RunRecorder::take(const RunSight& sight, double now) {
    std::vector<RunRow> rows;
    if (seen_ && sight.time < last_) {
        rows = end();
        RunRow anew;
        anew.time = now;
        anew.fault = "the board started anew";
        rows.push_back(std::move(anew));
    }
    const bool first = !seen_;
    seen_ = true;
    if (sight.faulted && !faulted_before_ && !first) {
        // The cue that is over with this look is the one that did not get what it waited for.
        std::vector<bool> over(sight.cues.size());
        for (std::size_t k = 0; k < over.size(); ++k) over[k] = k < cues_before_.size() && cues_before_[k] && !sight.cues[k];
        RunRow row;
        row.time = now;
        row.trigger = together(cues_, over);
        row.fault = "something did not come in time";
        rows.push_back(std::move(row));
    }
    for (std::size_t o = 0; o < runs_.size() && o < sight.on.size(); ++o) {
        auto& run = runs_[o];
        if (sight.on[o] && !run.on) run = {true, sight.time, now, together(cues_, sight.cues), sight.current};
        else if (!sight.on[o] && run.on) rows.push_back(close(o, sight.time));
        if (run.on && sight.current) run.current = std::max(run.current.value_or(0.0), *sight.current);
    }
    cues_before_ = sight.cues;
    faulted_before_ = sight.faulted;
    last_ = sight.time;
    now_ = now;
    return rows;
}

std::vector<RunRow> RunRecorder::end() {
    std::vector<RunRow> rows;
    for (std::size_t o = 0; o < runs_.size(); ++o)
        if (runs_[o].on) rows.push_back(close(o, last_));
    cues_before_.clear();
    seen_ = faulted_before_ = false;
    return rows;
}

std::string runLogHead() {
    return "time,trigger,action,duration,amount,current,fault\n";
}

std::string runLogLine(const RunRow& row) {
    const auto number = [](const std::optional<double>& value) { return value ? fmt::format("{:.6g}", *value) : std::string{}; };
    return fmt::format("{},{},{},{},{},{},{}\n", dateTime(row.time), csvText(row.trigger), csvText(row.action), number(row.duration),
                       number(row.amount), number(row.current), csvText(row.fault));
}

}  // namespace hinge::journal
