#include "journal/run_log.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <array>
#include "quantity/csv.hpp"
#include "quantity/text.hpp"
#include "timing/calendar.hpp"
#include "timing/time_of_day.hpp"

namespace hinge::journal {
namespace {

constexpr double day = 86'400.0;

std::optional<double> timeOf(std::string_view text) {
    if (text.size() < 16 || (text[10] != 'T' && text[10] != ' ')) return std::nullopt;
    const auto date = timing::parseDate(text.substr(0, 10));
    const auto time = timing::parseTimeOfDay(text.substr(11));
    if (!date || !time) return std::nullopt;
    return timing::dayNumber(*date) * day + *time;
}

}  // namespace

Result<std::vector<RunRow>> parseRunLog(std::string_view csv) {
    constexpr std::array names{"time", "trigger", "action", "duration", "amount", "current", "fault"};
    std::array<int, names.size()> columns;
    columns.fill(-1);
    std::vector<RunRow> rows;
    int number = 0;
    dropByteOrderMark(csv);
    const char between = csvBetween(csv);
    while (!csv.empty()) {
        const auto end = std::min(csv.find('\n'), csv.size());
        const auto line = csv.substr(0, end);
        csv.remove_prefix(std::min(end + 1, csv.size()));
        ++number;
        if (line.empty() || line == "\r") continue;
        const auto fields = csvFields(line, between);
        const auto bad = [&](const char* accepted) {
            return fail(ErrorCode::BadFormat, fmt::format("line {}", number), std::string{line.substr(0, 60)}, accepted);
        };
        if (columns[0] < 0) {
            for (std::size_t n = 0; n < names.size(); ++n)
                for (std::size_t f = 0; f < fields.size(); ++f)
                    if (fields[f] == names[n]) columns[n] = static_cast<int>(f);
            if (columns[0] < 0) return bad("a header with time, and any of trigger, action, duration, amount, current, fault");
            continue;
        }
        const auto field = [&](std::size_t n) {
            return columns[n] >= 0 && static_cast<std::size_t>(columns[n]) < fields.size() ? fields[static_cast<std::size_t>(columns[n])]
                                                                                           : std::string{};
        };
        RunRow row;
        const auto time = timeOf(field(0));
        if (!time) return bad("a time such as 2026-11-25T14:30:00");
        row.time = *time;
        row.trigger = fromCsvText(field(1)), row.action = fromCsvText(field(2)), row.fault = fromCsvText(field(6));
        for (const auto& [n, target] :
             {std::pair{std::size_t{3}, &row.duration}, {std::size_t{4}, &row.amount}, {std::size_t{5}, &row.current}}) {
            if (field(n).empty()) continue;
            const auto value = parseNumber(field(n));
            if (!value) return bad("plain numbers for duration, amount and current");
            *target = *value;
        }
        rows.push_back(std::move(row));
    }
    if (columns[0] < 0) return fail(ErrorCode::BadFormat, "file", "", "a run log: a header with time, then a row for each event");
    return rows;
}

RunTotals totalsOf(const std::vector<RunRow>& rows) {
    RunTotals t;
    t.rows = static_cast<int>(rows.size());
    std::vector<double> steps;
    for (std::size_t k = 1; k < rows.size(); ++k)
        if (rows[k].time >= rows[k - 1].time) steps.push_back(rows[k].time - rows[k - 1].time);
    auto sorted = steps;
    std::sort(sorted.begin(), sorted.end());
    const double usual = sorted.empty() ? 0.0 : sorted[sorted.size() / 2];
    // A running time that never goes back: where the clock does, nothing is counted between the two rows.
    double lived = 0.0;
    std::vector<double> faults;
    for (std::size_t k = 0; k < rows.size(); ++k) {
        if (k > 0) {
            const double step = rows[k].time - rows[k - 1].time;
            if (step < 0.0) ++t.jumps;
            else lived += step;
            if (step > std::max(day, 5.0 * usual)) ++t.gaps;
        }
        t.on_time += rows[k].duration.value_or(0.0);
        t.amount += rows[k].amount.value_or(0.0);
        if (rows[k].current) t.most_current = std::max(t.most_current.value_or(*rows[k].current), *rows[k].current);
        if (!rows[k].fault.empty()) faults.push_back(lived);
    }
    t.faults = static_cast<int>(faults.size());
    t.days = lived / day;
    if (!faults.empty()) t.since_fault = lived - faults.back();
    if (faults.size() > 1) t.between_faults = (faults.back() - faults.front()) / static_cast<double>(faults.size() - 1);
    return t;
}

}  // namespace hinge::journal
