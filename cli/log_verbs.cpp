// What was and what will be: `run-log`, `calendar`.
#include <fmt/format.h>
#include <iostream>
#include "cli/exit_status.hpp"
#include "cli/opened.hpp"
#include "cli/verbs.hpp"
#include "journal/cured.hpp"
#include "journal/run_log.hpp"
#include "quantity/text.hpp"
#include "report/calendar.hpp"

namespace hinge::cli {

int runLog(const std::string& file, bool json) {
    const auto text = files::readWhole(file);
    if (!text) return report(text.error());
    const auto rows = journal::parseRunLog(*text);
    if (!rows) return report(rows.error());
    const auto t = journal::totalsOf(*rows);
    const auto orNull = [](const std::optional<double>& value) { return value ? Json(*value) : Json(nullptr); };
    double sure = -1.0;  // below 0: nothing can be said
    if (t.between_faults && t.since_fault && *t.between_faults > 0.0)
        if (const auto judged = journal::cured({of<Duration>(*t.between_faults), of<Duration>(*t.since_fault)}))
            sure = si(judged->result.confidence_reached);
    if (json) {
        print({{"rows", t.rows},
               {"days", t.days},
               {"on_time_s", t.on_time},
               {"amount", t.amount},
               {"most_current_A", orNull(t.most_current)},
               {"faults", t.faults},
               {"since_fault_s", orNull(t.since_fault)},
               {"between_faults_s", orNull(t.between_faults)},
               {"cured_confidence", sure < 0.0 ? Json(nullptr) : Json(sure)},
               {"clock_jumps", t.jumps},
               {"gaps", t.gaps}});
        return Done;
    }
    std::cout << fmt::format("{} rows over {:.1f} days, on for {}, {} faults\n", t.rows, t.days, display(Kind::Duration, t.on_time),
                             t.faults);
    if (sure >= 0.0)
        std::cout << fmt::format("{:.1f} days since the last fault, {:.1f} from fault to fault before: {:.0f} % sure that it is gone\n",
                                 *t.since_fault / 86400.0, *t.between_faults / 86400.0, sure * 100.0);
    if (sure >= 0.0) {
        const auto judged = journal::cured({of<Duration>(*t.between_faults), of<Duration>(*t.since_fault)});
        const double left = judged ? si(judged->result.needed_time) - *t.since_fault : 0.0;
        std::cout << (left > 0.0
                          ? fmt::format("without a fault for {} more it counts as cured (95 % sure)\n", display(Kind::Duration, left))
                          : std::string{"it counts as cured (95 % sure)\n"});
    }
    if (t.jumps > 0 || t.gaps > 0) std::cout << fmt::format("the clock went back {} times; {} long silences\n", t.jumps, t.gaps);
    return Done;
}

int calendar(const project::Project& project, const timing::Date& from, const std::string& out) {
    // No clock: the same project and day give the same file.
    const auto text = hinge::report::calendarOf(project, from, fmt::format("{:04}{:02}{:02}T000000Z", from.year, from.month, from.day));
    if (text.empty()) return report({ErrorCode::Missing, "routine/cues", "", "a cue with a time of day: nothing is scheduled"});
    if (out.empty()) std::cout << text;
    else if (const auto written = files::writeWhole(out, text); !written) return report(written.error());
    return Done;
}

}  // namespace hinge::cli
