#pragma once
// What a gadget has done over weeks, from a CSV of its own or of the maker's.
#include <optional>
#include <string>
#include <string_view>
#include <vector>
#include "quantity/result.hpp"

namespace hinge::journal {

struct RunRow {
    double time = 0.0;  ///< s since 2000-01-01, local time as written
    std::string trigger, action, fault;
    std::optional<double> duration;  ///< s
    std::optional<double> amount;    ///< in the maker's own unit
    std::optional<double> current;   ///< A
};
/// "time,trigger,action,duration,amount,current,fault" in any order; time is needed, the others are not. Times as 2026-11-25T14:30:00.
/// @error BadFormat  no header with a time, or a row that is none; naming the line
[[nodiscard]] Result<std::vector<RunRow>> parseRunLog(std::string_view csv);

struct RunTotals {
    int rows = 0, faults = 0;
    double on_time = 0.0;  ///< s, of the rows that say so
    double amount = 0.0;
    double days = 0.0;  ///< from the first row to the last, jumps left out
    int jumps = 0;      ///< times that the clock went back
    int gaps = 0;       ///< silences of more than a day and of more than five times the usual
    std::optional<double> most_current;
    std::optional<double> since_fault;     ///< s from the last fault to the last row
    std::optional<double> between_faults;  ///< s, mean from fault to fault; absent with fewer than two
};
[[nodiscard]] RunTotals totalsOf(const std::vector<RunRow>& rows);

}  // namespace hinge::journal
