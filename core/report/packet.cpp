#include "report/packet.hpp"
#include "quantity/text.hpp"
#include <fmt/format.h>
#include <set>

namespace hinge::report {
namespace {

const char* markOf(Verdict verdict) {
    switch (verdict) {
        case Verdict::Holds: return "holds";
        case Verdict::Tight: return "tight";
        case Verdict::Breaks: return "breaks";
        case Verdict::Unknown: return "not known";
    }
    return "";
}

std::string cut(const std::string& text, std::size_t most) {
    // Whole characters only: the tail of one that does not fit goes too.
    if (text.size() <= most) return text;
    std::size_t end = most;
    while (end > 0 && (static_cast<unsigned char>(text[end]) & 0xC0) == 0x80) --end;
    return text.substr(0, end) + "…";
}

class Page {
public:
    std::string html;
    void heading(const char* words) { html += fmt::format("<h2>{}</h2>\n", words); }
    void say(const std::string& words) { html += "<p>" + escaped(words) + "</p>\n"; }
    void table(const std::vector<const char*>& heads) {
        html += "<table><thead><tr>";
        for (const char* head : heads) html += fmt::format("<th>{}</th>", head);
        html += "</tr></thead><tbody>\n";
    }
    void row(const std::vector<std::string>& cells) {
        html += "<tr>";
        for (const auto& cell : cells) html += "<td>" + escaped(cell) + "</td>";
        html += "</tr>\n";
    }
    void end() { html += "</tbody></table>\n"; }
};

template <class Q>
std::string amount(const std::optional<Q>& value) {
    return value ? display(*value) : "not known";
}

}  // namespace

std::string escaped(const std::string& text) {
    std::string out;
    for (const char c : text) {
        switch (c) {
            case '&': out += "&amp;"; break;
            case '<': out += "&lt;"; break;
            case '>': out += "&gt;"; break;
            case '"': out += "&quot;"; break;
            case '\'': out += "&#39;"; break;
            default:
                if (static_cast<unsigned char>(c) >= 32 || c == '\n' || c == '\t') out += c;
        }
    }
    return out;
}

Packet packetOf(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, const std::string& date) {
    Packet packet{project, plan, plan::wireRows(project, plan::wiring(project, parts, plan)), plan::partsList(project, parts, plan), proof::bringUp(project, parts, plan), {}, date};
    if (const auto sketch = plan::sketchOf(project, plan)) packet.sketch = sketch->text;
    return packet;
}

std::string crossbarSvg(const plan::Plan& plan) {
    const int name = 130, cell = 96, high = 44;
    const int width = name + cell * project::stageCount, height = 28 + high * static_cast<int>(plan.channels.size());
    std::string svg = fmt::format("<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {} {}\" role=\"img\" aria-label=\"crossbar\" font-family=\"sans-serif\">\n", width, height);
    for (int s = 0; s < project::stageCount; ++s) svg += fmt::format("<text x=\"{}\" y=\"18\" font-size=\"12\" font-weight=\"bold\">{}</text>\n", name + cell * s + 6, labelOf(static_cast<project::Stage>(s)));
    for (std::size_t i = 0; i < plan.channels.size(); ++i) {
        const int y = 28 + high * static_cast<int>(i);
        svg += fmt::format("<text x=\"4\" y=\"{}\" font-size=\"12\" font-weight=\"bold\">{}</text>\n", y + 25, escaped(cut(plan.channels[i].name, 18)));
        for (int s = 0; s < project::stageCount; ++s) {
            const auto& c = plan.channels[i].cells[static_cast<std::size_t>(s)];
            const int x = name + cell * s;
            const bool unknown = c.verdict == Verdict::Unknown;
            svg += fmt::format("<rect x=\"{}\" y=\"{}\" width=\"{}\" height=\"{}\" fill=\"none\" stroke=\"#20262b\" {}/>\n", x + 2, y + 2, cell - 4, high - 4, unknown ? "stroke-dasharray=\"3 3\"" : "");
            svg += fmt::format("<text x=\"{}\" y=\"{}\" font-size=\"10\">{}</text>\n", x + 6, y + 18, escaped(cut(c.figure, 15)));
            svg += fmt::format("<text x=\"{}\" y=\"{}\" font-size=\"9\" fill=\"#5c646b\">{}</text>\n", x + 6, y + 34, markOf(c.verdict));
            if (c.verdict == Verdict::Breaks) svg += fmt::format("<rect x=\"{}\" y=\"{}\" width=\"9\" height=\"9\" fill=\"#b3201f\"/>\n", x + cell - 13, y + 4);
            if (c.verdict == Verdict::Tight) svg += fmt::format("<path d=\"M{} {}l9 0l0 9z\" fill=\"none\" stroke=\"#7f6000\"/>\n", x + cell - 13, y + 4);
        }
    }
    return svg + "</svg>\n";
}

std::string packetHtml(const Packet& packet) {
    const auto& project = packet.project;
    const auto& plan = packet.plan;
    Page page;
    page.html = "<!DOCTYPE html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n<title>" + escaped(project.brief.name) +
                "</title>\n<style>\nbody { font-family: sans-serif; color: #20262b; background: #fffdf8; max-width: 62em; margin: 2em auto; padding: 0 1em; line-height: 1.4; }\n"
                "table { border-collapse: collapse; width: 100%; margin: 0.5em 0 1em; } th, td { text-align: left; padding: 0.2em 0.8em 0.2em 0; border-bottom: 1px solid #d9d3c6; vertical-align: top; }\n"
                "th { color: #5c646b; font-weight: normal; } h2 { margin-top: 1.6em; border-bottom: 2px solid #20262b; } .caution { border-left: 4px solid #b3201f; padding-left: 0.8em; margin: 0.4em 0; }\n"
                "pre { background: #f6f3ec; padding: 1em; overflow-x: auto; font-size: 0.85em; } svg { width: 100%; height: auto; } @media print { pre { white-space: pre-wrap; } h2 { break-after: avoid; } tr { break-inside: avoid; } }\n"
                "</style>\n</head>\n<body>\n";
    page.html += "<h1>" + escaped(project.brief.name) + "</h1>\n";
    if (!project.brief.purpose.empty()) page.say(project.brief.purpose);
    page.say(fmt::format("{}, {}; built as {}. Air around it {}.{}", labelOf(project.board.form), labelOf(project.brief.place), labelOf(project.brief.build_style), display(project.brief.ambient), packet.date.empty() ? "" : " Printed " + packet.date + "."));
    page.html += crossbarSvg(plan);

    page.heading("Cautions");
    std::set<std::string> said;
    for (const auto& finding : plan.findings)
        if (const auto* hazard = plan::hazardTitle(finding.id); hazard != nullptr && said.insert(finding.text).second) page.html += fmt::format("<p class=\"caution\"><strong>{}.</strong> {}</p>\n", hazard, escaped(finding.text));
    page.html += "<p class=\"caution\">This page advises. It approves no design: for mains and for anything that lives depend on follow your local code, and have a licensed electrician do or check the mains side.</p>\n";

    page.heading("What is still wrong or not known");
    if (plan.headline.breaks + plan.headline.tight == 0 && plan.missing.empty()) page.say("Nothing breaks or is tight, and nothing is missing.");
    page.table({"", "where", "what"});
    for (const auto& finding : plan.findings)
        if (finding.severity != Severity::Note) page.row({finding.severity == Severity::Stop ? "breaks" : "tight", std::string{labelOf(finding.stage)}, finding.text});
    for (const auto& missing : plan.missing) page.row({"not known", std::string{labelOf(missing.stage)}, missing.label + (missing.how.empty() ? "" : " (" + missing.how + ")")});
    page.end();

    page.heading("Parts");
    page.table({"pieces", "part", "each"});
    double sum = 0.0;
    bool priced = true;
    for (const auto& line : packet.parts) {
        page.row({std::to_string(line.count), line.name, line.price ? fmt::format("{} {:.2f}", project.brief.currency, si(*line.price)) : "no price"});
        if (line.price) sum += line.count * si(*line.price);
        else priced = false;
    }
    page.end();
    page.say(fmt::format("{}{} {:.2f}.", priced ? "In all " : "Of those with a price: ", project.brief.currency, sum));

    page.heading("Supply");
    page.table({"rail", "volts", "at rest", "running", "worst together", "lowest", "who draws then"});
    for (const auto* list : {&plan.sources, &plan.rails})
        for (const auto& rail : *list) page.row({rail.name, amount(rail.voltage), amount(rail.rest), amount(rail.running), amount(rail.most ? rail.most : rail.starting), amount(rail.least ? rail.least : rail.lowest), rail.culprits});
    page.end();
    if (plan.battery) page.say(fmt::format("The cells last {} of such days; {} is drawn while nothing moves.", display(plan.battery->runtime, 2), display(plan.battery->idle, 2)));

    page.heading("Wiring");
    page.table({"label", "from", "to", "colour", "copper", "length", "plug", "note"});
    for (const auto& wire : packet.wires)
        page.row({wire.label, wire.wire.from, wire.wire.to, wire.colour + (wire.colour_recorded ? "" : " (proposed)"), wire.area ? displayPlain(*wire.area) : "", wire.length ? displayPlain(*wire.length) : "", wire.connector, wire.wire.note});
    page.end();

    page.heading("Assembly, in this order");
    page.html += "<ol>\n<li>Lay out the parts; check polarity of supplies, capacitors and diodes against the wiring table.</li>\n<li>Wire the supply alone; leave the movers unplugged.</li>\n<li>Upload the sketch before anything is soldered to the serial pins.</li>\n"
                 "<li>Wire one driver at a time and go through its hold points below before the next.</li>\n<li>Fit horns, belts and wheels only after their channel has moved without them.</li>\n<li>Close the box last.</li>\n</ol>\n";

    page.heading("First power-up, one hold point after the other");
    page.table({"step", "do", "hold ready", "measure with", "expect", "read", "verdict"});
    for (const auto& step : packet.steps) {
        const std::string expected = step.least && step.most ? display(step.kind, *step.least) + " to " + display(step.kind, *step.most) : step.expected ? display(step.kind, *step.expected) : "not known yet";
        page.row({step.title, step.what + (step.caution.empty() ? "" : " Caution: " + step.caution), step.ready, step.instrument, expected, step.skipped.empty() ? step.reading : "skipped: " + step.skipped, step.reading.empty() ? "" : markOf(step.verdict)});
    }
    page.end();

    if (plan.program) {
        page.heading("Settings");
        page.table({"name", "value", "unit", "from", "to", "what"});
        for (const auto& p : plan.program->parameters) page.row({p.name, std::to_string(p.value), p.unit, std::to_string(p.least), std::to_string(p.most), p.meaning});
        page.end();
    }
    page.heading("Workings");
    for (const auto& working : plan.workings) {
        std::string who;
        for (const auto& channel : plan.channels)
            if (channel.id == working.channel) who = channel.name + ": ";
        page.html += "<h3>" + escaped(who + working.title) + "</h3>\n";
        page.table({"", "what", "formula", "with numbers", "value", "source"});
        for (const auto& step : working.steps) page.row({step.symbol, step.meaning, step.formula, step.substituted, step.value ? display(step.kind, *step.value, 4) : "not known", step.source});
        page.end();
    }
    if (!packet.sketch.empty()) {
        page.heading("Sketch");
        page.html += "<pre>" + escaped(packet.sketch) + "</pre>\n";
    }
    return page.html + "</body>\n</html>\n";
}

}  // namespace hinge::report
