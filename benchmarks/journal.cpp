// A gadget that was kept for ten years: three lines a day, read, written, and its history noted.
#include <benchmark/benchmark.h>
#include <nlohmann/json.hpp>
#include "catalogue/catalogue.hpp"
#include "match/rank.hpp"
#include "plan/plan.hpp"
#include "report/packet.hpp"
#include "store/document.hpp"
#include "store/history.hpp"

namespace {

using namespace hinge;

const store::Document& tenYears() {
    static const auto made = [] {
        auto document = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage").value();
        for (int k = 0; k < 3 * 3650; ++k) {
            journal::Entry entry;
            entry.id = "old" + std::to_string(k);
            entry.date = "2016-01-01T10:00";
            entry.kind = k % 3 == 0 ? journal::EntryKind::Run : journal::EntryKind::Measurement;
            entry.channel = k % 3 == 1 ? "rain" : "";
            entry.text = "Line " + std::to_string(k);
            document.project.journal.entries.push_back(std::move(entry));
        }
        return document;
    }();
    return made;
}

// The reference: the JSON library alone, on the same text.
void tenYearsParsedOnly(benchmark::State& state) {
    const auto text = store::toText(tenYears());
    for (auto _ : state) benchmark::DoNotOptimize(nlohmann::ordered_json::parse(text));
}
BENCHMARK(tenYearsParsedOnly)->Unit(benchmark::kMillisecond);

void tenYearsRead(benchmark::State& state) {
    const auto text = store::toText(tenYears());
    for (auto _ : state) benchmark::DoNotOptimize(store::fromText(text, "project.json"));
}
BENCHMARK(tenYearsRead)->Unit(benchmark::kMillisecond);

void tenYearsWritten(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(store::toText(tenYears()));
}
BENCHMARK(tenYearsWritten)->Unit(benchmark::kMillisecond);

// What every edit adds: the state noted in the history, in memory.
void tenYearsNoted(benchmark::State& state) {
    auto project = tenYears().project;
    store::History history;
    static_cast<void>(history.note(project, "2026-11-26T10:00:00"));
    double volume = 1e-5;
    for (auto _ : state) {
        project.brief.hour_value = of<Ratio>(volume += 1.0);
        benchmark::DoNotOptimize(history.note(project, "2026-11-26T10:00:01"));
    }
}
BENCHMARK(tenYearsNoted)->Unit(benchmark::kMillisecond);

// The packet of the demo, substitutes and test sketches with it, and its page.
void packetOfStage(benchmark::State& state) {
    const auto project = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage").value().project;
    const auto parts = catalogue::load(HINGE_SOURCE_DIR "/parts").value().parts;
    for (auto _ : state) benchmark::DoNotOptimize(report::packetHtml(report::packetOf(project, parts, {}, "2026-11-26")));
}
BENCHMARK(packetOfStage)->Unit(benchmark::kMillisecond);

}  // namespace
