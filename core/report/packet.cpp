#include "report/packet.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <kainjow/mustache.hpp>
#include "drawing/bundles.hpp"
#include "drawing/circuit.hpp"
#include "drawing/svg.hpp"
#include "plan/deck.hpp"
#include "quantity/text.hpp"
#include "report/packet_template.hpp"
#include "report/pictures.hpp"
#include "working/formula.hpp"

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

namespace mustache = kainjow::mustache;

// The blocks of the page, one below the other; packet.mustache lays them out and makes their words safe.
class Page {
public:
    void heading(const std::string& words) { block("heading", words); }
    void subheading(const std::string& words) { block("subheading", words); }
    void say(const std::string& words) { block("text", words); }
    void code(const std::string& text) { block("code", text); }
    void picture(const std::string& svg) { block("picture", svg); }
    void caution(const std::string& hazard, const std::string& words) {
        auto made = object("caution", words);
        if (!hazard.empty()) made.set("hazard", hazard);
        blocks_.push_back(made);
    }
    void photo(const std::string& base64, const std::string& caption) {
        auto made = object("photo", base64);
        made.set("caption", caption);
        blocks_.push_back(made);
    }
    void list(const std::vector<std::string>& lines, bool numbered) {
        auto made = flagged(numbered ? "numbered" : "listed");
        made.set("lines", wordsOf(lines));
        blocks_.push_back(made);
    }
    /// @param widths  of the columns in hundredths; empty: as they come
    void table(const std::vector<const char*>& heads, const std::vector<int>& widths = {}) {
        heads_ = mustache::data{mustache::data::type::list};
        for (std::size_t k = 0; k < heads.size(); ++k) {
            auto head = object("head", heads[k]);
            if (k < widths.size()) head.set("width", std::to_string(widths[k]));
            heads_.push_back(head);
        }
        rows_ = mustache::data{mustache::data::type::list};
    }
    void row(const std::vector<std::string>& cells) {
        mustache::data made{mustache::data::type::object};
        made.set("cells", wordsOf(cells));
        rows_.push_back(made);
    }
    /// A table without a row is none.
    void end() {
        if (rows_.is_empty_list()) return;
        auto made = flagged("table");
        made.set("heads", heads_);
        made.set("rows", rows_);
        blocks_.push_back(made);
    }
    /// Each step's formula as in a book, under it the same with the numbers put in, and what comes of it.
    void steps(const Steps& steps) {
        mustache::data rows{mustache::data::type::list};
        for (const auto& step : steps) {
            mustache::data row{mustache::data::type::object};
            row.set("meaning", step.meaning);
            row.set("formula", mathMl(parseFormula(step.symbol + " = " + step.formula)));
            if (step.substituted != step.formula) row.set("numbers", mathMl(parseFormula("= " + step.substituted)));
            row.set("value", step.value ? display(step.kind, *step.value, 4) : "not known");
            row.set("source", step.source);
            rows.push_back(row);
        }
        if (rows.is_empty_list()) return;
        auto made = flagged("steps");
        made.set("rows", rows);
        blocks_.push_back(made);
    }
    /// Labels to cut out, four side by side.
    void labels(const std::vector<plan::WireRow>& wires) {
        mustache::data rows{mustache::data::type::list};
        for (std::size_t i = 0; i < wires.size(); i += 4) {
            mustache::data cells{mustache::data::type::list};
            for (std::size_t k = i; k < i + 4; ++k) {
                mustache::data cell{mustache::data::type::object};
                if (k < wires.size()) {
                    cell.set("label", wires[k].label);
                    cell.set("from", wires[k].wire.from);
                    cell.set("to", wires[k].wire.to);
                }
                cells.push_back(cell);
            }
            mustache::data made{mustache::data::type::object};
            made.set("cells", cells);
            rows.push_back(made);
        }
        auto made = flagged("labels");
        made.set("rows", rows);
        blocks_.push_back(made);
    }
    [[nodiscard]] std::string html(const std::string& name) const {
        mustache::data page{mustache::data::type::object};
        page.set("name", name);
        page.set("blocks", blocks_);
        mustache::mustache laid{std::string{packet_template}};
        laid.set_custom_escape(&escaped);
        return laid.render(page);
    }

private:
    static mustache::data object(const std::string& key, const std::string& value) {
        mustache::data made{mustache::data::type::object};
        made.set(key, value);
        return made;
    }
    static mustache::data flagged(const std::string& key) {
        mustache::data made{mustache::data::type::object};
        made.set(key, mustache::data{mustache::data::type::bool_true});
        return made;
    }
    static mustache::data wordsOf(const std::vector<std::string>& words) {
        mustache::data list{mustache::data::type::list};
        for (const auto& each : words) list.push_back(mustache::data{each});
        return list;
    }
    void block(const char* kind, const std::string& words) { blocks_.push_back(object(kind, words)); }
    mustache::data blocks_{mustache::data::type::list}, heads_{mustache::data::type::list}, rows_{mustache::data::type::list};
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

std::vector<std::string> photosOf(const project::Project& project) {
    std::vector<std::string> names;
    // A name that leads out of the photos folder is none: the project may come from a stranger.
    const auto note = [&](const std::string& name) {
        if (name.find('/') == std::string::npos && !name.empty() && std::find(names.begin(), names.end(), name) == names.end())
            names.push_back(name);
    };
    for (const auto& check : project.proof) note(check.photo);
    for (const auto& entry : project.journal.entries) note(entry.photo);
    return names;
}

Packet packetOf(const project::Project& project, const project::Parts& parts, const plan::Evidence& evidence, const std::string& date) {
    const auto plan = plan::evaluate(project, parts, evidence);
    const bool found_out = evidence.proofs || evidence.build || evidence.compiler_missing;
    const auto plain = found_out ? plan::evaluate(project, parts, {}, &plan) : plan;
    Packet packet;
    packet.project = project;
    packet.proved = proof::proved(project, parts, plan);
    packet.wires = plan::wireRows(project, plan::wiring(project, parts, plan));
    packet.gadget = drawing::bundles(project, parts, plan, packet.wires);
    packet.circuits = drawing::circuits(project, parts, plan, packet.wires);
    for (const auto& line : packet.proved.account.lines)
        if (!line.id.empty())
            if (auto substitute = proof::substituteFor(project, parts, plan, line.id, &plain))
                packet.substitutes[line.id] = std::move(*substitute);
    const auto today = timing::parseDate(date).value_or(timing::Date{});
    packet.care = proof::careDue(project.journal.care, today);
    for (auto& due : proof::careProposed(project, parts, plan)) packet.care.push_back(std::move(due));
    for (const auto& channel : project.channels)
        if (auto test = proof::testSketch(project, parts, channel.id, &plain)) packet.tests.push_back(std::move(*test));
    if (const auto sketch = plan::sketchOf(project, plan)) packet.sketch = sketch->text;
    packet.deck = plan::spiceDeck(project, parts, plan);
    packet.assembly = assemblyOrder(project, packet.proved);
    packet.date = date;
    return packet;
}

namespace {

// Base 64 of RFC 4648, for pictures inside the page.
std::string base64(const std::string& bytes) {
    static constexpr char letters[] = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    std::string out;
    for (std::size_t i = 0; i < bytes.size(); i += 3) {
        unsigned block = 0;
        const std::size_t n = std::min<std::size_t>(3, bytes.size() - i);
        for (std::size_t k = 0; k < 3; ++k) block = block << 8 | (k < n ? static_cast<unsigned char>(bytes[i + k]) : 0u);
        for (std::size_t k = 0; k < 4; ++k) out += k <= n ? letters[block >> (18 - 6 * k) & 63] : '=';
    }
    return out;
}

void photo(Page& page, const Packet& packet, const std::string& name, const std::string& caption) {
    if (name.empty()) return;
    const auto found = packet.photos.find(name);
    if (found == packet.photos.end()) return page.say(caption + ": photo " + name + " was not found beside the project.");
    page.photo(base64(found->second), caption);
}

std::string channelName(const project::Project& project, const std::string& id) {
    const auto* channel = project::findChannel(project, id);
    return channel != nullptr ? channel->name : "";
}

void partsSection(Page& page, const Packet& packet) {
    const auto& account = packet.proved.account;
    const auto& currency = packet.project.brief.currency;
    page.heading("Parts");
    page.table({"needed", "spares", "in hand", "part", "each", "to wait for"});
    for (const auto& line : account.lines)
        page.row({std::to_string(line.needed), line.spares > 0 ? std::to_string(line.spares) : "",
                  line.in_hand ? std::to_string(*line.in_hand) + (line.verdict == Verdict::Breaks ? ", too few" : "") : "not counted",
                  line.name, line.price ? fmt::format("{} {:.2f}", currency, si(*line.price)) : "no price",
                  line.lead_time ? display(*line.lead_time) : ""});
    page.end();
    std::string sum = fmt::format("Parts {} {:.2f}", currency, account.parts);
    if (account.unpriced > 0) sum += fmt::format(", {} kinds of things without a price", account.unpriced);
    if (account.journal != 0.0) sum += fmt::format("; written down besides {} {:.2f}", currency, account.journal);
    if (account.shipping != 0.0) sum += fmt::format("; posting {} {:.2f}", currency, account.shipping);
    page.say(sum + (account.longest ? fmt::format(". The longest wait is {}.", display(*account.longest)) : "."));
    if (!packet.substitutes.empty()) {
        page.subheading("When one is not to be had");
        page.table({"instead of", "take", "what changes"}, {22, 22, 56});
        std::vector<std::string> by_hand;
        for (const auto& line : account.lines) {
            const auto found = packet.substitutes.find(line.id);
            if (found == packet.substitutes.end()) continue;
            const std::string verify = joined(found->second.verify, "; ");
            page.row({line.name, found->second.name, verify + "."});
            for (const auto& each : found->second.by_hand)
                if (std::find(by_hand.begin(), by_hand.end(), each) == by_hand.end()) by_hand.push_back(each);
        }
        page.end();
        page.say("Look at each of them by hand before it goes in:");
        page.list(by_hand, false);
    }
    std::vector<plan::Wire> wires;
    for (const auto& row : packet.wires) wires.push_back(row.wire);
    page.subheading("Ways of building it");
    page.table({"way", "wires", "joints", "time", "costs", "a wire is changed by"});
    for (const auto& effort : plan::buildStyles(wires))
        page.row({std::string{labelOf(effort.style)} + (effort.style == packet.project.brief.build_style ? " (this one)" : ""),
                  std::to_string(effort.wires),
                  fmt::format("{} soldered, {} plugged, {} screwed", effort.soldered, effort.plugged, effort.screwed),
                  display(effort.time, 2), fmt::format("{} {:.0f}", currency, si(effort.cost)), effort.repair});
    page.end();
}

void wiringSection(Page& page, const Packet& packet) {
    page.heading("Wiring");
    page.picture(drawing::svgOf(packet.gadget, packet.wires));
    page.subheading("Circuits");
    page.say("Each wire with its label and its colour's code (IEC 60757), as the list below has it.");
    for (const auto& row : drawing::inRows(packet.circuits, drawing::paper_wide)) page.picture(drawing::svgOf(row, packet.wires));
    page.subheading("Wires");
    page.table({"label", "from", "to", "colour", "copper", "length", "plug", "note"}, {7, 17, 19, 11, 9, 8, 8, 21});
    for (const auto& wire : packet.wires)
        page.row({wire.label, wire.wire.from, wire.wire.to, wire.colour + (wire.colour_recorded || wire.colour.empty() ? "" : " *"),
                  wire.area ? displayPlain(*wire.area) : "", wire.length ? displayPlain(*wire.length) : "", wire.connector,
                  wire.wire.note});
    page.end();
    if (std::any_of(packet.wires.begin(), packet.wires.end(),
                    [](const plan::WireRow& wire) { return !wire.colour_recorded && !wire.colour.empty(); }))
        page.say("* proposed; nobody has written down another colour.");
    page.subheading("Labels to cut out");
    page.say("Each twice, one for either end.");
    page.labels(packet.wires);
}

void proveSection(Page& page, const Packet& packet) {
    if (!packet.proved.fit.lines.empty()) {
        page.heading("Lengths and fits");
        page.table({"where", "what", "figure", "look", "verdict"}, {10, 16, 22, 26, 26});
        for (const auto& line : packet.proved.fit.lines)
            page.row({line.channel.empty() ? "the case" : channelName(packet.project, line.channel), line.what, line.figure, line.check,
                      std::string{markOf(line.verdict)} + (line.why.empty() ? "" : ": " + line.why)});
        page.end();
    }
    for (const auto& bag : packet.proved.bags) {
        page.heading("Pieces tried: " + bag.name);
        page.table({"piece", "verdict", "why"});
        for (const auto& sample : bag.samples) {
            const std::string why = joined(sample.reasons, "; ");
            page.row({sample.name, proof::sampleWord(sample.verdict), why});
        }
        page.end();
        if (bag.share)
            page.say(fmt::format("{} of {} rejected: nine in ten sure that at most {} of the bag are bad.", bag.rejected,
                                 bag.accepted + bag.suspect + bag.rejected, display(bag.share->at_most, 2)));
    }
    page.heading("First power-up, one hold point after the other");
    std::string phase;
    bool open = false;
    for (const auto& step : packet.proved.steps) {
        if (step.phase != phase) {
            if (open) page.end();
            page.subheading(step.phase);
            page.table({"step", "do", "have ready, measure with", "expect", "stop at once", "read"}, {16, 34, 18, 12, 12, 8});
            phase = step.phase, open = true;
        }
        const std::string expected = proof::rangeText(step);
        page.row({step.title, step.what + (step.caution.empty() ? "" : " Caution: " + step.caution), step.ready + ". " + step.instrument,
                  expected, step.abort,
                  step.skipped.empty() ? step.reading + (step.reading.empty() ? "" : std::string{", "} + markOf(step.verdict))
                                       : "skipped: " + step.skipped});
    }
    if (open) page.end();
    for (const auto& step : packet.proved.steps) photo(page, packet, step.photo, step.title);
}

void logSection(Page& page, const Packet& packet) {
    page.heading("Care");
    page.table({"where", "what", "every", "next", "why"}, {14, 34, 10, 12, 30});
    for (const auto& due : packet.care)
        page.row({due.care.channel.empty() ? "the gadget" : channelName(packet.project, due.care.channel), due.care.what,
                  display(due.care.every, 2),
                  due.proposed ? "proposed"
                  : due.next   ? fmt::format("{:04}-{:02}-{:02}", due.next->year, due.next->month, due.next->day)
                               : "not done yet",
                  due.reason});
    page.end();
    std::vector<std::string> lessons;
    for (const auto& entry : packet.project.journal.entries)
        if (const std::string& text = !entry.lesson.empty()                      ? entry.lesson
                                      : entry.kind == journal::EntryKind::Lesson ? entry.text
                                                                                 : entry.lesson;
            !text.empty())
            lessons.push_back(text);
    if (!lessons.empty()) {
        page.heading("Learnt on the way");
        page.list(lessons, false);
    }
    for (const auto& entry : packet.project.journal.entries)
        if (entry.kind != journal::EntryKind::Measurement) photo(page, packet, entry.photo, entry.date.substr(0, 10) + " " + entry.text);
}

}  // namespace

std::string packetHtml(const Packet& packet) {
    const auto& project = packet.project;
    const auto& plan = packet.proved.plan;
    Page page;
    if (!project.brief.purpose.empty()) page.say(project.brief.purpose);
    page.say(fmt::format("{}, {}; built as {}. Air around it {}.{}", labelOf(project.board.form), labelOf(project.brief.place),
                         labelOf(project.brief.build_style), display(project.brief.ambient),
                         packet.date.empty() ? "" : " Printed " + packet.date + "."));
    page.picture(crossbarSvg(plan));

    page.heading("Cautions");
    for (const auto& finding : plan::together(plan.findings, plan.channels))
        if (const auto* hazard = plan::hazardTitle(finding.id)) page.caution(hazard, finding.text);
    page.caution("",
                 "This page advises. It approves no design: for mains and for anything that lives depend on follow your local code, and "
                 "have a licensed electrician do or check the mains side.");

    page.heading("What is still wrong or not known");
    if (plan.headline.breaks + plan.headline.tight == 0 && plan.missing.empty())
        page.say("Nothing breaks or is tight, and nothing is missing.");
    page.table({"", "where", "what"});
    for (const auto& finding : plan.findings)
        if (finding.severity != Severity::Note)
            page.row({finding.severity == Severity::Stop ? "breaks" : "tight", std::string{labelOf(finding.stage)}, finding.text});
    for (const auto& missing : plan.missing)
        page.row({"not known", std::string{labelOf(missing.stage)}, missing.label + (missing.how.empty() ? "" : " (" + missing.how + ")")});
    page.end();

    partsSection(page, packet);
    page.heading("Supply");
    page.table({"rail", "volts", "at rest", "running", "worst together", "lowest", "who draws then"});
    for (const auto* list : {&plan.sources, &plan.rails})
        for (const auto& rail : *list)
            page.row({rail.name, amount(rail.voltage), amount(rail.rest), amount(rail.running),
                      amount(rail.most ? rail.most : rail.starting), amount(rail.least ? rail.least : rail.lowest), rail.culprits});
    page.end();
    if (plan.battery)
        page.say(fmt::format("The cells last {} of such days; {} is drawn while nothing moves.", display(plan.battery->runtime, 2),
                             display(plan.battery->idle, 2)));

    wiringSection(page, packet);
    page.heading("Assembly, in this order");
    page.list(packet.assembly, true);
    proveSection(page, packet);
    page.heading("Use");
    page.list(useOf(project, plan), false);

    if (plan.program) {
        page.heading("Settings");
        page.table({"name", "value", "unit", "from", "to", "what"});
        for (const auto& p : plan.program->parameters)
            page.row({p.name, std::to_string(p.value), p.unit, std::to_string(p.least), std::to_string(p.most), p.meaning});
        page.end();
    }
    logSection(page, packet);
    page.heading("Workings");
    auto workings = plan::allWorkings(plan);
    workings.insert(workings.end(), packet.proved.fit.workings.begin(), packet.proved.fit.workings.end());
    for (const auto& working : workings) {
        std::string who;
        for (const auto& channel : plan.channels)
            if (channel.id == working.channel) who = channel.name + ": ";
        page.subheading(who + working.title);
        page.steps(working.steps);
    }
    if (!packet.sketch.empty()) {
        page.heading("Sketch");
        page.code(packet.sketch);
        if (!packet.deck) page.say("Its wiring as a deck for ngspice is not in this packet: " + sentence(packet.deck.error()));
    }
    return page.html(project.brief.name);
}

}  // namespace hinge::report
