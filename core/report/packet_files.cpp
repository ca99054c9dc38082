#include <fmt/format.h>
#include "drawing/svg.hpp"
#include "quantity/csv.hpp"
#include "quantity/text.hpp"
#include "report/calendar.hpp"
#include "report/packet.hpp"
#include "report/pictures.hpp"

namespace hinge::report {
namespace {

std::string line(const std::vector<std::string>& cells) {
    return joined(cells, ",", [](const auto& cell) { return csvText(cell); }) + "\n";
}

std::string stepsCsv(const Packet& packet) {
    std::string csv = "step,phase,channel,title,do,expected,least,most,unit,read,verdict,skipped\n";
    for (const auto& step : packet.proved.steps) {
        const auto number = [](const std::optional<double>& value) { return value ? exactNumber(*value) : std::string{}; };
        csv +=
            line({step.id, step.phase, step.channel, step.title, step.what, number(step.expected), number(step.least), number(step.most),
                  std::string{siUnit(step.kind)}, step.reading, step.reading.empty() ? "" : std::string{word(step.verdict)}, step.skipped});
    }
    return csv;
}

std::string journalCsv(const project::Project& project) {
    std::string csv = "date,kind,channel,text,settings,lesson,cost,photo\n";
    for (const auto& entry : project.journal.entries)
        csv += line({entry.date, nameOf(entry.kind), entry.channel, entry.text, entry.settings, entry.lesson,
                     entry.cost ? exactNumber(si(*entry.cost)) : "", entry.photo});
    return csv;
}

std::string fitCsv(const Packet& packet) {
    std::string csv = "channel,what,figure,look,verdict,why\n";
    for (const auto& each : packet.proved.fit.lines)
        csv += line({each.channel, each.what, each.figure, each.check, std::string{word(each.verdict)}, each.why});
    return csv;
}

std::string settingsCsv(const plan::Plan& plan) {
    std::string csv = "name,value,least,most,unit,meaning\n";
    if (plan.program)
        for (const auto& p : plan.program->parameters)
            csv += line({p.name, std::to_string(p.value), std::to_string(p.least), std::to_string(p.most), p.unit, p.meaning});
    return csv;
}

std::string careCsv(const Packet& packet) {
    std::string csv = "channel,what,every [d],last,next,proposed,why\n";
    for (const auto& due : packet.care)
        csv += line({due.care.channel, due.care.what, fmt::format("{:.0f}", si(due.care.every) / 86'400.0), due.care.done,
                     due.next ? fmt::format("{:04}-{:02}-{:02}", due.next->year, due.next->month, due.next->day) : "",
                     due.proposed ? "yes" : "no", due.reason});
    return csv;
}

}  // namespace

std::vector<PacketFile> packetFiles(const Packet& packet, const std::string& project_text, const std::string& scene) {
    std::vector<PacketFile> files;
    const auto add = [&](std::string path, std::string bytes) {
        if (!bytes.empty()) files.push_back({std::move(path), std::move(bytes)});
    };
    add("packet.html", packetHtml(packet));
    add("project.json", project_text);
    add("wiring.csv", plan::wiringCsv(packet.wires));
    add("parts.csv", proof::accountCsv(packet.proved.account));
    add("steps.csv", stepsCsv(packet));
    add("settings.csv", settingsCsv(packet.proved.plan));
    add("journal.csv", journalCsv(packet.project));
    if (!packet.proved.fit.lines.empty()) add("fit.csv", fitCsv(packet));
    add("care.csv", careCsv(packet));
    add("crossbar.svg", crossbarSvg(packet.proved.plan));
    add("gadget.svg", drawing::svgOf(packet.gadget, packet.wires));
    add("wiring.svg",
        drawing::svgOf(drawing::asOne(drawing::onSheet(packet.circuits, drawing::paper_wide), packet.project.brief.name), packet.wires));
    add("scene.vcd", scene);
    const auto day = timing::parseDate(packet.date);
    if (day) add("schedule.ics", calendarOf(packet.project, *day, fmt::format("{:04}{:02}{:02}T000000Z", day->year, day->month, day->day)));
    if (const auto sketch = plan::sketchOf(packet.project, packet.proved.plan)) {
        add("sketch/" + sketch->name + "/" + sketch->name + ".ino", sketch->text);
        for (const auto& beside : sketch->beside) add("sketch/" + sketch->name + "/" + beside.name, beside.text);
        add("sketch/" + sketch->name + "/" + sketch->name + ".cir", packet.deck.value_or(std::string{}));
    }
    for (const auto& test : packet.tests) {
        add("test-sketches/" + test.sketch.name + "/" + test.sketch.name + ".ino", test.sketch.text);
        for (const auto& beside : test.sketch.beside) add("test-sketches/" + test.sketch.name + "/" + beside.name, beside.text);
    }
    for (const auto& [name, bytes] : packet.photos) add("photos/" + name, bytes);
    return files;
}

}  // namespace hinge::report
