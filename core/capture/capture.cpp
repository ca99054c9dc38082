#include "capture/capture.hpp"
#include <fmt/format.h>
#include <filesystem>
#include <fstream>
#include "capture/csv_reader.hpp"
#include "capture/vcd_reader.hpp"
#include "quantity/text.hpp"

namespace hinge::capture {

std::size_t Gatherer::addSignal(std::string name) {
    names_.push_back(std::move(name));
    meters_.emplace_back();
    levels_.push_back(-1);
    if (options_.keep_edges > 0) lines_.emplace_back();
    return names_.size() - 1;
}

void Gatherer::level(std::size_t signal, double time, int level) {
    if (levels_[signal] == level) return;
    meters_[signal].level(time, level);
    if (options_.keep_edges > 0 && level >= 0) {
        auto& line = lines_[signal];
        if (line.first_level < 0) line.first_level = level;
        // After an unknown level the line may come back as it was: then no edge is drawn.
        else if ((line.first_level + line.edges.size()) % 2 != static_cast<std::size_t>(level)) {
            if (kept_ < options_.keep_edges) line.edges.push_back(time), ++kept_;
            else cut_ = true;
        }
    }
    levels_[signal] = level;
}

void Gatherer::volts(std::size_t signal, double time, double volts) {
    if (volts > options_.threshold + options_.hysteresis) level(signal, time, 1);
    else if (volts < options_.threshold - options_.hysteresis) level(signal, time, 0);
}

void Gatherer::finish(Capture& capture) {
    for (std::size_t s = 0; s < names_.size(); ++s) capture.signals.push_back(meters_[s].finish(std::move(names_[s])));
    capture.lines = std::move(lines_);
    capture.edges_cut = cut_;
    for (const auto& signal : capture.signals)
        if (signal.high.count > 0 && capture.time_step > 0.0 && signal.high.shortest < 4.0 * capture.time_step)
            capture.remarks.push_back(
                {"capture-coarse",
                 fmt::format(
                     "{}: its shortest pulse is {}, but the capture tells only {} apart. Capture it faster before you trust its widths.",
                     signal.name, display(Kind::Duration, signal.high.shortest), display(Kind::Duration, capture.time_step))});
}

Result<Capture> read(std::istream& in, const std::string& name, const Options& options) {
    in >> std::ws;
    const int first = in.peek();
    if (first == std::char_traits<char>::eof()) return fail(ErrorCode::BadFormat, name, "an empty file", "a VCD or CSV capture");
    TextSource text(in);
    auto capture = first == '$' ? readVcd(text, name, options) : readCsv(text, name, options);
    if (capture) capture->bytes = text.bytes();
    return capture;
}

Result<Capture> readFile(const std::string& path, const Options& options) {
    std::error_code error;
    if (std::filesystem::is_directory(path, error)) return fail(ErrorCode::NotPlain, path, "a folder", "a VCD or CSV capture");
    std::ifstream in(path, std::ios::binary);
    if (!in)
        return fail(std::filesystem::exists(path, error) ? ErrorCode::NotReadable : ErrorCode::NotFound, path, "", "a VCD or CSV capture");
    return read(in, path, options);
}

}  // namespace hinge::capture
