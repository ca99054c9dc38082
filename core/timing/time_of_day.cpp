#include "timing/time_of_day.hpp"
#include <fmt/format.h>
#include <algorithm>

namespace hinge::timing {
namespace {
constexpr int day = 86400;
}

Result<int> parseTimeOfDay(std::string_view text) {
    const auto bad = [&] {
        return fail(ErrorCode::BadFormat, "", std::string{text}, "a time of day from 00:00 to 23:59, seconds allowed (06:40 or 06:40:30)");
    };
    while (!text.empty() && text.front() == ' ') text.remove_prefix(1);
    while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
    if (text.size() != 5 && text.size() != 8 && text.size() != 4) return bad();
    std::vector<int> parts;
    int digits = 0;
    int value = 0;
    for (const char c : text) {
        if (c == ':') {
            if (digits == 0 || (digits != 2 && !parts.empty())) return bad();
            parts.push_back(value);
            value = digits = 0;
        } else if (c >= '0' && c <= '9' && digits < 2) {
            value = value * 10 + (c - '0');
            ++digits;
        } else {
            return bad();
        }
    }
    if (digits != 2) return bad();
    parts.push_back(value);
    if (parts.size() < 2 || parts.size() > 3) return bad();
    const int seconds = parts.size() == 3 ? parts[2] : 0;
    if (parts[0] > 23 || parts[1] > 59 || seconds > 59) return bad();
    return parts[0] * 3600 + parts[1] * 60 + seconds;
}

Result<std::vector<int>> parseTimesOfDay(std::string_view text) {
    std::vector<int> times;
    while (true) {
        const auto comma = text.find(',');
        auto time = parseTimeOfDay(text.substr(0, comma));
        if (!time) return tl::unexpected(time.error());
        if (std::find(times.begin(), times.end(), *time) != times.end())
            return fail(ErrorCode::Conflict, "", timeOfDayText(*time), "each time once");
        times.push_back(*time);
        if (comma == std::string_view::npos) return times;
        text = text.substr(comma + 1);
    }
}

std::string timeOfDayText(int seconds) {
    if (seconds % 60 == 0) return fmt::format("{:02}:{:02}", seconds / 3600, seconds / 60 % 60);
    return fmt::format("{:02}:{:02}:{:02}", seconds / 3600, seconds / 60 % 60, seconds % 60);
}

Result<Worked<TimeOfDayResult>> timeOfDay(const TimeOfDay& in) {
    auto times = parseTimesOfDay(in.times);
    if (!times) {
        times.error().field = "times";
        return tl::unexpected(times.error());
    }
    auto now = parseTimeOfDay(in.now);
    if (!now) {
        now.error().field = "now";
        return tl::unexpected(now.error());
    }
    Worked<TimeOfDayResult> out;
    int next = day;
    for (const int time : *times) {
        const int ahead = ((time - *now) % day + day) % day;
        next = std::min(next, ahead == 0 ? day : ahead);
        const int since = ((*now - time) % day + day) % day;
        if (since < si(in.duration)) out.result.on_now = true;
    }
    out.result.next = of<Duration>(next);
    addStep(out.steps, "tn", "until the next one", "smallest (t − {now}) mod 86400, above 0", {{"now", static_cast<double>(*now)}},
            out.result.next, "derived: modular arithmetic over a day");
    return out;
}

FormPtr timeOfDayForm() {
    using I = TimeOfDay;
    auto form = std::make_shared<FormOf<I, TimeOfDayResult>>("time-of-day", "pulse", "seconds to the next of several times of day",
                                                             "derived: modular arithmetic over a day", &timeOfDay);
    form->rule("next = smallest (t − now) mod 24 h above 0; on_now: (now − t) mod 24 h < duration")
        .in("times", &I::times, nullptr, "times of day, such as 06:40,18:30")
        .in("now", &I::now, nullptr, "time of day now")
        .in("duration", &I::duration, nullptr, "of what runs then")
        .out("next", &TimeOfDayResult::next, "to the next one, strictly after now")
        .out("on_now", &TimeOfDayResult::on_now, "running now");
    return form;
}

}  // namespace hinge::timing
