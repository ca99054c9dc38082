#include "report/calendar.hpp"
#include <fmt/format.h>
#include <array>
#include <cmath>
#include "proof/upkeep.hpp"
#include "quantity/text.hpp"
#include "timing/time_of_day.hpp"

namespace hinge::report {
namespace {

// Commas, semicolons, backslashes and line breaks have a meaning of their own.
std::string calendarText(const std::string& text) {
    std::string out;
    for (const char c : text) {
        if (c == ',' || c == ';' || c == '\\') out += '\\';
        if (c == '\n') out += "\\n";
        else if (static_cast<unsigned char>(c) >= 32) out += c;
    }
    return out;
}

// A line is at most 75 octets; what is longer goes on behind a blank. A character is not cut in two.
void add(std::string& calendar, const std::string& line) {
    std::size_t room = 75, used = 0;
    for (std::size_t i = 0; i < line.size();) {
        std::size_t size = 1;
        while (i + size < line.size() && (static_cast<unsigned char>(line[i + size]) & 0xC0) == 0x80) ++size;
        if (used + size > room) {
            calendar += "\r\n ";
            used = 1;
        }
        calendar.append(line, i, size);
        used += size;
        i += size;
    }
    calendar += "\r\n";
}

std::string dayOf(const timing::Date& date) {
    return fmt::format("{:04}{:02}{:02}", date.year, date.month, date.day);
}

}  // namespace

std::string calendarOf(const project::Project& project, const timing::Date& from, const std::string& stamp) {
    std::string calendar;
    bool any = false;
    add(calendar, "BEGIN:VCALENDAR");
    add(calendar, "VERSION:2.0");
    add(calendar, "PRODID:-//Hinge Spark//schedule//EN");
    const auto event = [&](const std::string& id, const std::string& start, const std::string& rule, const std::string& summary,
                           const std::string& text) {
        any = true;
        add(calendar, "BEGIN:VEVENT");
        add(calendar, "UID:" + id + "@hinge-spark");
        add(calendar, "DTSTAMP:" + stamp);
        add(calendar, "DTSTART" + start);
        add(calendar, "RRULE:" + rule);
        add(calendar, "SUMMARY:" + calendarText(summary));
        if (!text.empty()) add(calendar, "DESCRIPTION:" + calendarText(text));
        add(calendar, "END:VEVENT");
    };
    for (const auto& cue : project.routine.cues) {
        const auto times = timing::parseTimesOfDay(cue.times);
        if (!times) continue;
        // Only on some days, where an input of days says so.
        std::string rule = "FREQ=DAILY", text = "It starts by itself: nobody's fingers near it.";
        timing::Date first = from;
        std::optional<timing::Date> last;  // of the season that comes next
        for (const auto& guard : cue.guards) {
            const auto* days = project::findInput(project, guard.input);
            if (!guard.only || days == nullptr || days->kind != project::InputKind::Days) continue;
            const auto opens = days->from_date.empty() ? Result<int>(101) : timing::parseMonthDay(days->from_date),
                       ends = days->to_date.empty() ? Result<int>(1231) : timing::parseMonthDay(days->to_date);
            if (opens && ends && (!days->from_date.empty() || !days->to_date.empty())) {
                while (!timing::inSeason(*opens, *ends, first.month, first.day)) first = timing::dayAfter(first);
                for (last = first; last->month * 100 + last->day != *ends && timing::inSeason(*opens, *ends, last->month, last->day);)
                    last = timing::dayAfter(*last);
            }
            const auto mask = timing::parseWeekdays(days->weekdays);
            if (mask && *mask != 0x7f && *mask != 0) {
                constexpr std::array names{"MO", "TU", "WE", "TH", "FR", "SA", "SU"};
                std::vector<std::string> list;
                for (std::size_t d = 0; d < 7; ++d)
                    if ((*mask >> d & 1) != 0) list.emplace_back(names[d]);
                rule = "FREQ=WEEKLY;BYDAY=" + joined(list, ",");
                // The first event must be one of those days.
                while ((*mask >> timing::weekdayOf(first) & 1) == 0) first = timing::dayAfter(first);
            }
            if (!days->from_date.empty() || !days->to_date.empty())
                text += fmt::format(" From {} to {} of each year.", days->from_date.empty() ? "01-01" : days->from_date,
                                    days->to_date.empty() ? "12-31" : days->to_date);
        }
        if (last) {
            if (timing::dayNumber(first) > timing::dayNumber(*last)) continue;  // none of its weekdays is left in it
            rule += ";UNTIL=" + dayOf(*last) + "T235959";
            text += " Write the calendar anew for the next season.";
        }
        for (std::size_t t = 0; t < times->size(); ++t) {
            const int second = (*times)[t];
            event(fmt::format("{}-{}", cue.id, t),
                  fmt::format(":{}T{:02}{:02}{:02}", dayOf(first), second / 3600, second / 60 % 60, second % 60), rule,
                  project.brief.name + ": " + cue.name, text);
        }
    }
    const auto due = proof::careDue(project.journal.care, from);
    for (const auto& each : due) {
        const auto* channel = project::findChannel(project, each.care.channel);
        const int days = std::max(1, static_cast<int>(std::lround(si(each.care.every) / 86'400.0)));
        // What is overdue, or was never done, is due on the first day.
        const auto first = each.next && each.days.value_or(0) > 0 ? *each.next : from;
        event("care-" + each.care.id, ";VALUE=DATE:" + dayOf(first), fmt::format("FREQ=DAILY;INTERVAL={}", days),
              project.brief.name + ": " + (channel != nullptr ? channel->name + ", " : "") + each.care.what,
              each.care.done.empty() ? "It was never done." : "Last done on " + each.care.done.substr(0, 10) + ".");
    }
    add(calendar, "END:VCALENDAR");
    return any ? calendar : std::string{};
}

}  // namespace hinge::report
