#include "capture/csv_reader.hpp"
#include <fmt/format.h>
#include <charconv>
#include <cmath>
#include <utility>

namespace hinge::capture {
namespace {

std::string_view trimmed(std::string_view text) {
    while (!text.empty() && (text.front() == ' ' || text.front() == '"')) text.remove_prefix(1);
    while (!text.empty() && (text.back() == ' ' || text.back() == '"')) text.remove_suffix(1);
    return text;
}

bool number(std::string_view text, double& value) {
    if (!text.empty() && text.front() == '+') text.remove_prefix(1);
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    return error == std::errc{} && end == text.data() + text.size() && std::isfinite(value);
}

void split(std::string_view line, char separator, std::vector<std::string_view>& cells) {
    cells.clear();
    for (;;) {
        const auto at = line.find(separator);
        cells.push_back(trimmed(line.substr(0, at)));
        if (at == std::string_view::npos) return;
        line.remove_prefix(at + 1);
    }
}

// "time [ms]" or "Time (us)": the factor to seconds; nullopt for a unit that is none of time.
std::optional<double> timeScale(std::string_view heading) {
    const auto open = heading.find_last_of("[(");
    if (open == std::string_view::npos) return 1.0;
    auto unit = heading.substr(open + 1);
    unit = unit.substr(0, unit.find_first_of("])"));
    constexpr std::pair<std::string_view, double> units[]{{"s", 1.0},   {"ms", 1e-3},  {"us", 1e-6},  {"µs", 1e-6}, {"μs", 1e-6},
                                                          {"ns", 1e-9}, {"ps", 1e-12}, {"min", 60.0}, {"h", 3600.0}};
    for (const auto& [name, size] : units)
        if (unit == name) return size;
    return std::nullopt;
}

}  // namespace

Result<Capture> readCsv(TextSource& text, const std::string& name, const Options& options) {
    const auto bad = [&](std::string what, std::string accepted) {
        return fail(ErrorCode::BadFormat, fmt::format("{}, line {}", name, text.line()), std::move(what), std::move(accepted));
    };
    Capture capture;
    capture.format = Format::Csv;
    Gatherer gather(options);
    std::string_view line;
    std::vector<std::string_view> cells;
    std::vector<bool> analogue;
    char separator = 0;
    double scale = 1.0, start = 0.0, last = 0.0;
    bool any = false;
    std::uint64_t report_at = 1 << 20;
    while (text.nextLine(line)) {
        if (text.binary()) return bad("bytes that are no text", "a VCD or CSV capture");
        if (line.empty() || line.front() == '#' || line.front() == ';' || line.find_first_not_of(" \t") == std::string_view::npos) continue;
        if (separator == 0) {
            separator = line.find('\t') != std::string_view::npos ? '\t' : line.find(';') != std::string_view::npos ? ';' : ',';
            split(line, separator, cells);
            if (cells.size() < 2) return bad(shown(line), "a time and at least one line in each row, parted by comma, semicolon or tab");
            if (cells.size() > 1001) return bad(fmt::format("{} columns", cells.size()), "at most 1000 lines");
            double value = 0.0;
            const bool heading = !number(cells.front(), value);
            if (heading) {
                const auto unit = timeScale(cells.front());
                if (!unit) return bad(shown(cells.front()), "a time column first, in s, ms, us or ns");
                scale = *unit;
            }
            for (std::size_t i = 1; i < cells.size(); ++i)
                gather.addSignal(heading && !cells[i].empty() ? std::string{cells[i]} : fmt::format("column {}", i + 1));
            analogue.assign(cells.size(), false);
            if (heading) continue;
        } else {
            split(line, separator, cells);
        }
        double time = 0.0;
        if (cells.size() != analogue.size() || !number(cells.front(), time)) {
            if (text.cut()) {
                capture.remarks.push_back(
                    {"capture-cut", fmt::format("The file breaks off in line {}; what stands before it is measured.", text.line())});
                break;
            }
            if (cells.size() != analogue.size())
                return bad(fmt::format("{} cells", cells.size()), fmt::format("{}, as in the first row", analogue.size()));
            return bad(shown(cells.front()), "a time with a decimal point");
        }
        time *= scale;
        if (!std::exchange(any, true)) start = last = time;
        if (time < last) return bad(fmt::format("time goes back from {} s to {} s", last, time), "times that never go back");
        if (time > last && (capture.time_step == 0.0 || time - last < capture.time_step)) capture.time_step = time - last;
        last = time;
        for (std::size_t i = 1; i < cells.size(); ++i) {
            const auto cell = cells[i];
            if (!analogue[i] && cell.size() == 1 && (cell.front() == '0' || cell.front() == '1')) {
                gather.level(i - 1, time - start, cell.front() - '0');
                continue;
            }
            double volts = 0.0;
            if (!number(cell, volts)) {
                if (text.cut()) break;
                if (cell.empty() || cell == "x" || cell == "X" || cell == "z" || cell == "Z") {
                    gather.level(i - 1, time - start, -1);
                    continue;
                }
                return bad(shown(cell), "0, 1 or volts with a decimal point");
            }
            analogue[i] = true;
            gather.volts(i - 1, time - start, volts);
        }
        if (text.bytes() >= report_at) {
            report_at = text.bytes() + (1 << 20);
            if (options.progress && !options.progress(text.bytes())) return fail(ErrorCode::Cancelled, name, "", "");
        }
    }
    if (!any) return bad("no row of numbers", "a time and the lines' levels in each row");
    capture.length = last - start;
    gather.finish(capture);
    return capture;
}

}  // namespace hinge::capture
