// `measure`: every line of a capture, and where asked against a plan.
#include <fmt/format.h>
#include <algorithm>
#include <iostream>
#include "cli/exit_status.hpp"
#include "cli/opened.hpp"
#include "cli/verbs.hpp"
#include "proof/capture_check.hpp"
#include "quantity/text.hpp"

namespace hinge::cli {
namespace {

Json widthsJson(const capture::Widths& widths) {
    if (widths.count == 0)
        return {{"count", 0},           {"mean_s", nullptr},    {"shortest_s", nullptr},
                {"longest_s", nullptr}, {"typical_s", nullptr}, {"deviation_s", nullptr}};
    return {{"count", widths.count},       {"mean_s", widths.mean},       {"shortest_s", widths.shortest},
            {"longest_s", widths.longest}, {"typical_s", widths.typical}, {"deviation_s", widths.deviation}};
}

Json burstsJson(const capture::SignalMeasure& signal) {
    Json bursts = Json::array();
    for (const auto& b : signal.bursts)
        bursts.push_back({{"start_s", b.start},
                          {"end_s", b.end},
                          {"pulses", b.pulses},
                          {"peak_rate_Hz", b.peak_rate},
                          {"first_interval_s", b.first_interval},
                          {"acceleration_Hz_per_s", orNull(b.acceleration)},
                          {"deceleration_Hz_per_s", orNull(b.deceleration)}});
    return bursts;
}

Json signalsJson(const capture::Capture& capture) {
    Json signals = Json::array();
    for (const auto& s : capture.signals)
        signals.push_back({{"name", s.name},
                           {"looks_like", nameOf(s.looks)},
                           {"first_level", s.first_level < 0 ? Json(nullptr) : Json(s.first_level)},
                           {"rises", s.rises},
                           {"falls", s.falls},
                           {"unknowns", s.unknowns},
                           {"first_edge_s", orNull(s.first_edge)},
                           {"last_edge_s", orNull(s.last_edge)},
                           {"frequency_Hz", orNull(s.frequency)},
                           {"duty", orNull(s.duty)},
                           {"period", widthsJson(s.period)},
                           {"high", widthsJson(s.high)},
                           {"low", widthsJson(s.low)},
                           {"jitter_s", s.jitter},
                           {"jitter_rms_s", s.jitter_rms},
                           {"missing", s.missing},
                           {"short_pulses", s.short_pulses},
                           {"pauses", s.pauses},
                           {"burst_count", s.burst_count},
                           {"bursts", burstsJson(s)}});
    return signals;
}

// A null `checks` leaves them out: no plan was named.
Json measureJson(const std::string& path, const capture::Capture& capture, const std::vector<proof::CaptureCheck>* checks) {
    Json remarks = Json::array();
    for (const auto& remark : capture.remarks) remarks.push_back({{"id", remark.id}, {"severity", "note"}, {"text", remark.text}});
    Json answer{{"capture", path},
                {"format", nameOf(capture.format)},
                {"bytes", capture.bytes},
                {"length_s", capture.length},
                {"time_step_s", capture.time_step},
                {"signals", signalsJson(capture)},
                {"findings", remarks}};
    if (checks == nullptr) return answer;
    answer["checks"] = Json::array();
    for (const auto& c : *checks)
        answer["checks"].push_back({{"signal", c.signal},
                                    {"channel", c.channel},
                                    {"what", c.what},
                                    {"measured", c.measured},
                                    {"planned", c.planned},
                                    {"least", c.least},
                                    {"most", c.most},
                                    {"verdict", word(c.verdict)},
                                    {"text", c.text}});
    return answer;
}

void say(const capture::SignalMeasure& s) {
    std::cout << fmt::format("{}: {}, {} rises, {} falls", s.name, labelOf(s.looks), s.rises, s.falls);
    if (s.frequency)
        std::cout << fmt::format("; {} with {} high", display(Kind::Frequency, *s.frequency, 5), display(Kind::Fraction, *s.duty));
    if (s.high.count > 0)
        std::cout << fmt::format("; high {} to {}", display(Kind::Duration, s.high.shortest, 4),
                                 display(Kind::Duration, s.high.longest, 4));
    if (s.period.count > 0)
        std::cout << fmt::format("; period {} to {}, jitter {}", display(Kind::Duration, s.period.shortest, 4),
                                 display(Kind::Duration, s.period.longest, 4), display(Kind::Duration, s.jitter));
    if (s.missing > 0) std::cout << fmt::format("; {} left out", s.missing);
    if (s.short_pulses > 0) std::cout << fmt::format("; {} cut short", s.short_pulses);
    std::cout << '\n';
    for (const auto& b : s.bursts)
        if (b.acceleration || b.deceleration)
            std::cout << fmt::format("  at {}: {} pulses, up to {}, {}\n", display(Kind::Duration, b.start, 4), b.pulses,
                                     display(Kind::Frequency, b.peak_rate),
                                     b.acceleration ? fmt::format("speeding up by {:.4g} a second, each second", *b.acceleration) : "");
}

void say(const capture::Capture& capture, const std::vector<proof::CaptureCheck>* checks) {
    std::cout << fmt::format("{}, {} lines, {}\n", labelOf(capture.format), capture.signals.size(),
                             display(Kind::Duration, capture.length));
    for (const auto& signal : capture.signals) say(signal);
    for (const auto& remark : capture.remarks) std::cout << fmt::format("note: {} ({})\n", remark.text, remark.id);
    if (checks == nullptr) return;
    for (const auto& check : *checks)
        std::cout << fmt::format("{:<10} {}, {}: {} of {}\n", word(check.verdict), check.channel, check.what,
                                 display(check.kind, check.measured, 4), display(check.kind, check.planned, 4))
                  << (check.text.empty() ? "" : "           " + check.text + "\n");
    if (checks->empty()) std::cout << "No line of the capture bears a channel's id, name or pin: name one to lay it against the plan.\n";
}

}  // namespace

int measure(const std::string& path, const std::string& against, const std::string& catalogue, const std::string& threshold, bool json,
            bool strict) {
    capture::Options options;
    if (!threshold.empty()) {
        const auto volts = parseQuantity(Kind::Voltage, threshold);
        if (!volts) return report({ErrorCode::BadFormat, "--threshold", threshold, "a voltage such as 1.5V"});
        options.threshold = *volts;
    }
    const auto capture = capture::readFile(path, options);
    if (!capture) return report(capture.error());
    std::vector<proof::CaptureCheck> checks;
    if (!against.empty()) {
        const auto opened = open(against, catalogue, false);
        if (!opened) return report(opened.error());
        checks = proof::checkCapture(*capture, opened->document.project, opened->plan);
    }
    const auto* laid = against.empty() ? nullptr : &checks;
    if (json) print(measureJson(path, *capture, laid));
    else say(*capture, laid);
    const bool breaks = std::any_of(checks.begin(), checks.end(), [](const auto& check) { return check.verdict == Verdict::Breaks; });
    return strict && breaks ? DoneAndBreaks : Done;
}

}  // namespace hinge::cli
