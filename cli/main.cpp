// hinge-spark-cli: the same answers as the window's, on a terminal.
#include <fmt/format.h>
#include <CLI/CLI.hpp>
#include <algorithm>
#include <cerrno>
#include <cmath>
#include <cstring>
#include <iostream>
#include "catalogue/catalogue.hpp"
#include "cli/chip_verbs.hpp"
#include "cli/exit_status.hpp"
#include "cli/fault_verb.hpp"
#include "cli/json.hpp"
#include "cli/proof_verbs.hpp"
#include "cli/tune_verb.hpp"
#include "control/step_fit.hpp"
#include "emulator/gadget.hpp"
#include "journal/cured.hpp"
#include "journal/run_log.hpp"
#include "link/protocol.hpp"
#include "plan/machines.hpp"
#include "plan/wiring.hpp"
#include "plan/workings.hpp"
#include "plant/on_times.hpp"
#include "proof/capture_check.hpp"
#include "proof/proved.hpp"
#include "quantity/csv.hpp"
#include "quantity/text.hpp"
#include "report/calendar.hpp"
#include "routine/compile.hpp"
#include "routine/prove.hpp"
#include "simulation/happen.hpp"
#include "simulation/seen.hpp"
#include "simulation/supply_day.hpp"
#include "store/document.hpp"
#include "store/json.hpp"

namespace hinge::cli {
namespace {

namespace fs = std::filesystem;

}  // namespace

int report(const Error& error) {
    std::string line = sentence(error);
    std::replace(line.begin(), line.end(), '\n', ' ');
    std::cerr << line << '\n';
    switch (error.code) {
        case ErrorCode::NotFound:
        case ErrorCode::NotPlain:
        case ErrorCode::NotReadable:
        case ErrorCode::NotDriven:
        case ErrorCode::Failed:
        case ErrorCode::NotWritable: return NotHere;
        default: return BadRequest;
    }
}

namespace {

void print(const Json& json) {
    std::cout << json.dump(2, ' ', false, Json::error_handler_t::replace) << '\n';
}

Result<std::string> readFile(const std::string& path) {
    return files::readWhole(path);
}

// The workings, and the one that reads a file.
const std::vector<FormPtr>& workings() {
    static const std::vector<FormPtr> list = [] {
        auto all = plan::allWorkings();
        all.push_back(control::stepFitForm(&readFile));
        return all;
    }();
    return list;
}

FormPtr findWorking(const std::string& name) {
    for (const auto& form : workings())
        if (form->name == name) return form;
    return nullptr;
}

int listWorkings() {
    for (const auto& form : workings()) std::cout << fmt::format("{:<18} {:<7} {}\n", form->name, form->stage, form->summary);
    return Done;
}

int helpWorking(const Form& form) {
    std::cout << form.name << ": " << form.summary << "\n\ninputs\n";
    for (const auto& input : form.inputs) {
        const std::string preset = input.default_text.empty() ? input.optional ? "optional" : "required" : "default " + input.default_text;
        std::cout << fmt::format("  {:<28} {:<12} {:<20} {}; {}\n", input.name, input.unit.empty() ? "" : "[" + input.unit + "]", preset,
                                 input.help, input.range);
    }
    std::cout << "\nresults\n";
    for (const auto& output : form.outputs)
        std::cout << fmt::format("  {:<28} {:<12} {}\n", output.name, output.unit.empty() ? "" : "[" + output.unit + "]", output.help);
    std::cout << "\nrule: " << form.formula << "\nsource: " << form.source << '\n';
    return Done;
}

// A temperature on the thermometer; a rise or a difference stays in kelvin.
bool isTemperature(const Shown& value) {
    return value.unit == "K" && value.name.find("rise") == std::string::npos && value.name.find("difference") == std::string::npos;
}

std::string shownText(const Shown& value) {
    return std::visit(
        [&](const auto& v) -> std::string {
            using V = std::decay_t<decltype(v)>;
            const std::string unit = value.unit.empty() ? "" : " " + value.unit;
            if constexpr (std::is_same_v<V, std::monostate>) return "not known";
            else if constexpr (std::is_same_v<V, bool>) return v ? "yes" : "no";
            else if constexpr (std::is_same_v<V, double>)
                return isTemperature(value) ? fmt::format("{:.6g} °C", v - 273.15) : fmt::format("{:.6g}{}", v, unit);
            else if constexpr (std::is_same_v<V, std::string>) return v;
            else return fmt::format("{} numbers", v.size());
        },
        value.value);
}

int work(const std::vector<std::string>& words, bool json, bool strict) {
    if (words.empty() || words == std::vector<std::string>{"--json"}) {
        if (words.empty() && !json) return listWorkings();
        Json list = Json::array();
        for (const auto& form : workings()) list.push_back({{"work", form->name}, {"stage", form->stage}, {"summary", form->summary}});
        print(list);
        return Done;
    }
    const auto form = findWorking(words.front());
    if (!form) return report({ErrorCode::Unknown, "work", words.front(), "'hinge-spark-cli work' lists the workings"});
    Given given;
    for (std::size_t i = 1; i < words.size(); ++i) {
        if (words[i] == "--help" || words[i] == "-h") return helpWorking(*form);
        if (words[i] == "--json") {
            json = true;
            continue;
        }
        if (words[i] == "--strict") {
            strict = true;
            continue;
        }
        const auto equals = words[i].find('=');
        if (equals == std::string::npos) return report({ErrorCode::BadFormat, "input", words[i], "name=value"});
        given.emplace_back(words[i].substr(0, equals), words[i].substr(equals + 1));
    }
    const auto answer = form->answer(given);
    if (!answer) return report(answer.error());
    if (json) {
        print(toJson(*answer));
    } else {
        for (const auto& result : answer->results) std::cout << fmt::format("{:<24} {}\n", result.name, shownText(result));
        std::cout << "verdict                  " << word(answer->verdict) << '\n';
        for (const auto& finding : answer->findings)
            std::cout << fmt::format("{}: {} ({})\n", word(finding.severity), finding.text, finding.id);
        std::cout << '\n';
        for (const auto& step : answer->steps)
            std::cout << fmt::format("{} = {}\n{:>{}} = {}\n{:>{}} = {} {}   {} [{}]\n", step.symbol, step.formula, "", step.symbol.size(),
                                     step.substituted, "", step.symbol.size(),
                                     !step.value                      ? "not known"
                                     : step.kind == Kind::Temperature ? fmt::format("{:.6g} K, {:.1f}", *step.value, *step.value - 273.15)
                                                                      : fmt::format("{:.6g}", *step.value),
                                     step.kind == Kind::Temperature ? "°C" : step.unit, step.meaning, step.source);
    }
    return strict && answer->verdict == Verdict::Breaks ? DoneAndBreaks : Done;
}

/// A project with its catalogue, proofs and plan.
struct Opened {
    store::Document document;
    project::Parts parts;
    plan::Evidence evidence;
    plan::Plan plan;
    std::vector<plan::IdleLine> idle;  ///< of channels that were left out on purpose
};

fs::path partsFolder(const std::string& given) {
    if (!given.empty()) return given;
    std::error_code ignored;
    if (fs::exists(HINGE_PARTS_DIR, ignored)) return HINGE_PARTS_DIR;
    return HINGE_INSTALLED_PARTS_DIR;
}

Result<Opened> open(const std::string& project, const std::string& catalogue, bool prove, const std::vector<std::string>& without = {}) {
    Opened opened;
    auto document = store::load(project);
    if (!document) return tl::unexpected(document.error());
    opened.document = std::move(*document);
    auto loaded = catalogue::load(partsFolder(catalogue));
    if (!loaded) return tl::unexpected(loaded.error());
    opened.parts = std::move(loaded->parts);
    if (!without.empty()) {
        const auto whole = plan::evaluate(opened.document.project, opened.parts);
        for (const auto& id : without) {
            const auto* channel = project::findChannel(opened.document.project, id);
            if (channel == nullptr) return fail(ErrorCode::Unknown, "--without", id, "the id of a channel of this project");
            for (auto& line : plan::idleLines(*channel, *plan::findChannel(whole, id))) opened.idle.push_back(std::move(line));
            opened.document.project = project::removeChannel(std::move(opened.document.project), id);
        }
    }
    opened.plan = plan::evaluate(opened.document.project, opened.parts);
    if (prove && opened.plan.program) {
        opened.evidence.proofs = routine::prove(*opened.plan.program);
        opened.plan = plan::evaluate(opened.document.project, opened.parts, opened.evidence);
    }
    plan::dropUnsound(opened.document.project, opened.parts, opened.plan);
    opened.plan = proof::proved(opened.document.project, opened.parts, std::move(opened.plan)).plan;
    return opened;
}

int showPlan(const std::string& project, const std::string& catalogue, bool json, bool strict) {
    const auto opened = open(project, catalogue, true);
    if (!opened) return report(opened.error());
    const auto& plan = opened->plan;
    if (json) {
        print(toJson(plan));
    } else {
        std::cout << plan.headline.name << ": " << word(plan.verdict) << '\n';
        for (const auto& source : plan.headline.sources)
            std::cout << fmt::format(
                "{}: {} {}{}\n", source.name, plan.headline.worst_by_routine ? "worst current" : "all starting together",
                source.worst ? display(*source.worst) : "not known", source.promised ? " of " + display(*source.promised) : "");
        if (plan.battery)
            std::cout << fmt::format("cells: {} at {} on average, {} at rest\n", display(plan.battery->runtime),
                                     display(plan.battery->average), display(plan.battery->idle));
        for (const auto& channel : plan.channels) {
            std::cout << '\n' << channel.name << '\n';
            for (std::size_t i = 0; i < channel.cells.size(); ++i) {
                const auto& cell = channel.cells[i];
                std::cout << fmt::format("  {:<8} {:<10} {}{}{}\n", labelOf(static_cast<project::Stage>(i)),
                                         cell.verdict == Verdict::Unknown ? "not known" : std::string{word(cell.verdict)}, cell.figure,
                                         cell.figure.empty() || cell.small.empty() ? "" : ", ", cell.small);
            }
        }
        std::cout << '\n';
        for (const auto& finding : plan::together(plan.findings, plan.channels))
            std::cout << fmt::format("{:<5} {:<22} {}\n", word(finding.severity), finding.id, finding.text);
        for (const auto& missing : plan.missing) std::cout << fmt::format("not known: {} ({})\n", missing.label, missing.how);
    }
    return strict && plan.verdict == Verdict::Breaks ? DoneAndBreaks : Done;
}

int showMatch(const std::string& project, const std::string& channel, const std::string& catalogue, const std::string& swap, bool json) {
    const auto opened = open(project, catalogue, false);
    if (!opened) return report(opened.error());
    const auto* found = plan::findChannel(opened->plan, channel);
    if (found == nullptr) {
        const std::string ids = joined(opened->plan.channels, ", ", [&](const auto& entry) { return entry.id; });
        return report({ErrorCode::Unknown, "CHANNEL", channel, ids.empty() ? "this gadget has no channels yet" : "one of " + ids});
    }
    const auto* decided = project::findChannel(opened->document.project, channel);
    if (!swap.empty()) {
        // PART or PART,DRIVER: what the swap changes everywhere; nothing is written.
        const auto comma = swap.find(',');
        const std::string part = swap.substr(0, comma), driver = comma == std::string::npos ? decided->drive.part : swap.substr(comma + 1);
        if (match::partOf(found->context, opened->parts, part) == nullptr)
            return report({ErrorCode::Unknown, "--swap", part, "the id of a part of the catalogue; 'match --json' lists them"});
        if (project::findDriver(opened->parts, driver) == nullptr)
            return report({ErrorCode::Unknown, "--swap", driver, "PART,DRIVER with the id of a driver of the catalogue"});
        const std::string base = "channels/" + channel + "/";
        const auto after = project::with(opened->document.project,
                                         std::vector<project::FactEdit>{{base + "actuator", part}, {base + "drive/part", driver}});
        if (!after) return report(after.error());
        const auto changes = plan::difference(opened->document.project, *after, opened->parts);
        if (json) {
            print(toJson(changes));
        } else {
            for (const auto& c : changes)
                std::cout << fmt::format("{:<8} {}: {} -> {}\n", labelOf(c.stage), c.what, c.before.empty() ? "none" : c.before,
                                         c.after.empty() ? "none" : c.after);
        }
        return Done;
    }
    const auto ranked = match::candidates(found->context, opened->parts);
    const auto* part = match::partOf(found->context, opened->parts, decided->actuator);
    const auto drivers = part != nullptr ? match::driversFor(found->context, opened->parts, *part) : std::vector<match::Pairing>{};
    if (json) {
        print(toJson(ranked, drivers, channel));
    } else {
        for (const auto& p : ranked) {
            std::cout << fmt::format("{:<8} {} + {}{}\n         {}\n", p.verdict == Verdict::Unknown ? "?" : word(p.verdict),
                                     p.actuator_name, p.driver_name, p.rail_name.empty() ? "" : " on " + p.rail_name, p.reason);
            if (p.verdict != Verdict::Breaks) continue;
            const auto* loser = match::partOf(found->context, opened->parts, p.actuator);
            const auto change = loser != nullptr ? match::changeToWin(found->context, opened->parts, *loser) : std::string{};
            if (!change.empty()) std::cout << "         would do it " << change << '\n';
        }
        if (!drivers.empty()) std::cout << "\ndrivers for the part chosen\n";
        for (const auto& p : drivers)
            std::cout << fmt::format("{:<8} {}\n         {}\n", p.verdict == Verdict::Unknown ? "?" : word(p.verdict), p.driver_name,
                                     p.reason);
        for (const auto& extra : found->protection)
            std::cout << fmt::format("goes with it: {}, {}: {} ({})\n", extra.what, extra.value, extra.where, extra.why);
    }
    return Done;
}

// What of a folder of parts was read, and what was not, row by row.
int checkParts(const std::string& folder, const std::string& csv, bool json) {
    const auto loaded = catalogue::load(partsFolder(folder));
    if (!loaded) return report(loaded.error());
    Json list = Json::array();
    for (const auto& p : loaded->problems)
        list.push_back({{"file", p.file}, {"row", p.row}, {"column", p.column}, {"value", p.value}, {"why", p.why}});
    if (!csv.empty())
        if (const auto written = files::writeWhole(csv, catalogue::problemTable(loaded->problems)); !written)
            return report(written.error());
    if (json) {
        print({{"actuators", loaded->parts.actuators.size()}, {"drivers", loaded->parts.drivers.size()}, {"problems", list}});
    } else {
        std::cout << fmt::format("{} parts that move, {} drivers, {} rows left out\n", loaded->parts.actuators.size(),
                                 loaded->parts.drivers.size(), loaded->problems.size());
        for (const auto& p : loaded->problems)
            std::cout << fmt::format("{}, row {}{}: '{}': {}\n", p.file, p.row, p.column.empty() ? "" : ", " + p.column, p.value, p.why);
    }
    return Done;
}

Result<plan::Plan> complete(const Opened& opened) {
    if (opened.plan.program) return opened.plan;
    return tl::unexpected(opened.plan.program_error.value_or(Error{ErrorCode::Missing, "routine", "", "a routine that compiles"}));
}

int simulate(const std::string& project, const std::string& catalogue, const std::string& length, const std::string& events,
             const std::string& csv, bool json) {
    const auto opened = open(project, catalogue, false);
    if (!opened) return report(opened.error());
    const auto plan = complete(*opened);
    if (!plan) return report(plan.error());
    simulation::Options options;
    const auto time = parseQuantity(Kind::Duration, length);
    if (!time || *time <= 0.0 || *time > 400.0 * 86400.0)
        return report({ErrorCode::OutOfRange, "--for", length, "a time such as 30s or 24h, up to 400 days"});
    options.length = *time;
    auto script = scriptOf(events);
    if (!script) return report(script.error());
    options.events = std::move(*script);
    options.machines = plan::heldMachines(opened->document.project, opened->parts, *plan);
    const auto plants = plan::plantsOf(opened->document.project, opened->parts, *plan);
    if (!plants) return report(plants.error());
    const auto traces = simulation::simulate(*plan->program, *plants, options);
    if (!traces) return report(traces.error());
    // What is drawn and what the rails do over the same stretch, from change to change.
    std::optional<simulation::SupplyDay> rails;
    if (const auto tree = plan::drawnTree(opened->document.project, opened->parts, *plan))
        rails = simulation::supplyOf(*traces, *tree, 2000);
    if (!csv.empty()) {
        std::string text = "time,current,poured";
        for (const auto& output : plan->program->outputs) text += "," + output.id;
        text += '\n';
        for (const auto& s : traces->samples) {
            text += exactNumber(s.time) + "," + (rails ? exactNumber(rails->drawnAt(s.time)) : "") + "," + exactNumber(s.poured);
            for (const double duty : s.duty) text += "," + exactNumber(duty);
            text += '\n';
        }
        if (const auto written = files::writeWhole(csv, text); !written) return report(written.error());
    }
    if (json) {
        print(toJson(*traces, rails ? &*rails : nullptr, *plan->program));
    } else if (csv.empty()) {
        if (rails)
            std::cout << fmt::format("{} played, {} drawn at most, at {}\n", display(Kind::Duration, traces->length),
                                     display(Kind::Current, rails->drawn), display(Kind::Duration, rails->drawn_time));
        else
            std::cout << fmt::format("{} played; what is drawn is not known: a part, its figures or a calibration is missing\n",
                                     display(Kind::Duration, traces->length));
        if (rails && rails->collapsed) std::cout << "a source at its limit does not come to rest: its rails are given as collapsed\n";
        for (std::size_t i = 0; rails && i < rails->ids.size(); ++i)
            std::cout << fmt::format("{}: lowest {} at {}\n", rails->names[i], display(Kind::Voltage, rails->lowest[i].volts, 4),
                                     display(Kind::Duration, rails->lowest[i].time));
        for (const auto& s : traces->switchings)
            std::cout << fmt::format("{:>10.3f} s  {} {}\n", s.time, plan->program->outputs[static_cast<std::size_t>(s.output)].name,
                                     !s.on    ? "off"
                                     : s.back ? "on, backwards"
                                              : "on");
    }
    return Done;
}

int proveInterlocks(const std::string& project, const std::string& catalogue, bool json) {
    const auto opened = open(project, catalogue, true);
    if (!opened) return report(opened.error());
    const auto plan = complete(*opened);
    if (!plan) return report(plan.error());
    const auto& proofs = *opened->evidence.proofs;
    if (json) print(toJson(proofs));
    bool violated = false;
    for (const auto& proof : proofs) {
        const bool never = proof.claim == routine::Claim::Never;
        violated = violated || (never && proof.status == routine::ProofStatus::Violated);
        if (json) continue;
        std::cout << fmt::format("never {}: {}, {} states, {} events deep\n", proof.text,
                                 proof.status == routine::ProofStatus::Proved     ? "proved"
                                 : proof.status == routine::ProofStatus::Violated ? "violated"
                                                                                  : "bounded",
                                 proof.states, proof.depth);
        for (const auto& event : proof.story) std::cout << fmt::format("  {:.3f} s  {}\n", event.tick / 1000.0, event.event);
    }
    return violated ? DoneAndBreaks : Done;
}

// What the sketch cannot drive is refused by name, with the way out.
int refused(Error error) {
    if (error.code == ErrorCode::NotDriven && error.field.starts_with("channels/"))
        error.accepted = "choose another, or leave it out with --without " + error.field.substr(9);
    return report(error);
}

int emit(const std::string& project, const std::string& catalogue, const std::vector<std::string>& without, const std::string& folder,
         bool single_file) {
    const auto opened = open(project, catalogue, false, without);
    if (!opened) return report(opened.error());
    auto sketch = plan::sketchOf(opened->document.project, opened->plan, opened->idle);
    if (!sketch) return refused(sketch.error());
    if (single_file) sketch = firmware::singleFile(std::move(*sketch));
    const fs::path out = fs::path{folder} / sketch->name;
    std::error_code error;
    fs::create_directories(out, error);
    if (error) return report({ErrorCode::NotWritable, out.string(), error.message(), "choose another folder"});
    const std::string wires =
        plan::wiringCsv(plan::wireRows(opened->document.project, plan::wiring(opened->document.project, opened->parts, opened->plan)));
    std::string parts = "count,part,price\n";
    for (const auto& line : plan::partsList(opened->document.project, opened->parts, opened->plan))
        parts += fmt::format("{},{},{}\n", line.count, csvCell(line.name), line.price ? fmt::format("{:.2f}", si(*line.price)) : "");
    std::string parameters = "name,value,least,most,unit,meaning\n";
    for (const auto& p : opened->plan.program->parameters)
        parameters += fmt::format("{},{},{},{},{},{}\n", p.name, p.value, p.least, p.most, p.unit, csvCell(p.meaning));
    // What a hand wrote between the marks of the sketch that stands there is kept.
    std::string sketch_text = sketch->text;
    const fs::path ino = out / (sketch->name + ".ino");
    if (fs::is_regular_file(ino, error))
        if (const auto older = files::readWhole(ino)) sketch_text = firmware::withHandWritten(sketch_text, *older);
    const auto into = files::Folder::open(out);
    if (!into) return report(into.error());
    for (const auto& file : sketch->beside)
        if (const auto written = into->write(file.name, file.text); !written) return report(written.error());
    for (const auto& [name, text] : {std::pair{ino, sketch_text}, std::pair{out / "wiring.csv", wires}, std::pair{out / "parts.csv", parts},
                                     std::pair{out / "parameters.csv", parameters}})
        if (const auto written = files::writeWhole(name, text); !written) return report(written.error());
    std::cout << ino.string() << '\n';
    return Done;
}

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

// Edges that a timer makes are known when its counter is read, a moment after those that the program
// writes: they are sorted first.
std::string vcdOf(const emulator::EmulatedBoard& board, const project::Project& project, const plan::Plan& plan) {
    auto edges = board.edges();
    const auto outputs = plan::drivenChannels(project, plan);
    // What is written is the pins' levels: where low is on, the opposite of the load's.
    const auto inverted = [&](const plant::Edge& edge) {
        return edge.output >= 0 && plan::findChannel(plan, outputs[static_cast<std::size_t>(edge.output)]->id)->inverted;
    };
    std::stable_sort(edges.begin(), edges.end(), [](const auto& a, const auto& b) { return a.time < b.time; });
    std::string text = "$version Hinge Spark $end\n$timescale 1 ns $end\n$scope module gadget $end\n";
    // Identifier codes are printable characters; two are enough for all.
    const auto code = [](std::size_t i) { return std::string{static_cast<char>('!' + i % 90), static_cast<char>('!' + i / 90)}; };
    const auto place = [&](const plant::Edge& edge) {
        return static_cast<std::size_t>(edge.output >= 0 ? edge.output : static_cast<int>(outputs.size()) + edge.input);
    };
    // As the sketch names them: a plain word each, whatever the ids are.
    for (std::size_t o = 0; o < outputs.size(); ++o)
        text += fmt::format("$var wire 1 {} {} $end\n", code(o), routine::symbol(outputs[o]->id));
    for (std::size_t i = 0; i < project.inputs.size(); ++i)
        text += fmt::format("$var wire 1 {} {} $end\n", code(outputs.size() + i), routine::symbol(project.inputs[i].id));
    // Direction and enable lines after them.
    const std::size_t first_line = outputs.size() + project.inputs.size();
    for (std::size_t l = 0; l < board.lines().size(); ++l)
        text += fmt::format("$var wire 1 {} {} $end\n", code(first_line + l), board.lines()[l].name);
    text += "$upscope $end\n$enddefinitions $end\n#0\n$dumpvars\n";
    for (std::size_t l = 0; l < board.lines().size(); ++l) text += fmt::format("0{}\n", code(first_line + l));
    for (std::size_t o = 0; o < outputs.size(); ++o)
        text += fmt::format("{}{}\n", plan::findChannel(plan, outputs[o]->id)->inverted ? 1 : 0, code(o));
    for (std::size_t i = 0; i < project.inputs.size(); ++i)
        text += fmt::format("{}{}\n", project::pinActiveHigh(project.inputs[i]) ? 0 : 1, code(outputs.size() + i));
    text += "$end\n";
    std::vector<std::pair<long long, std::string>> changes;
    for (const auto& edge : edges)
        changes.emplace_back(std::llround(edge.time * 1e9),
                             fmt::format("{}{}\n", inverted(edge) ? 1 - edge.level : edge.level, code(place(edge))));
    for (const auto& edge : board.lineEdges())
        changes.emplace_back(std::llround(edge.time * 1e9), fmt::format("{}{}\n", edge.level ? 1 : 0, code(first_line + edge.line)));
    std::stable_sort(changes.begin(), changes.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    long long last = -1;
    for (const auto& [at, change] : changes) {
        if (at != last) text += fmt::format("#{}\n", at);
        last = at;
        text += change;
    }
    return text;
}

Json orNull(const std::optional<double>& value) {
    return value ? Json(*value) : Json(nullptr);
}

int run(const std::string& project, const std::string& catalogue, const std::vector<std::string>& without, const std::string& length,
        const std::string& events, const std::string& vcd, bool json) {
    const auto opened = open(project, catalogue, false, without);
    if (!opened) return report(opened.error());
    const auto time = parseQuantity(Kind::Duration, length);
    if (!time || *time <= 0.0 || *time > 3600.0) return report({ErrorCode::OutOfRange, "--for", length, "a time such as 5s, up to 1 h"});
    auto read = scriptOf(events);
    if (!read) return report(read.error());
    const auto& script = *read;
    auto board =
        emulator::startGadget(opened->document.project, opened->parts, opened->plan, emulator::usualCache(), nullptr, opened->idle);
    if (!board) return refused(board.error());
    const auto& program = *opened->plan.program;
    auto machines = simulation::unscripted(plan::heldMachines(opened->document.project, opened->parts, opened->plan), program, script);
    // A loop whose reading neither a machine nor the script gives holds on to a number that does not move: said, not passed over.
    std::vector<std::string> still;
    for (const auto& loop : program.loops) {
        const auto& input = program.inputs[static_cast<std::size_t>(loop.input)];
        const bool given = std::any_of(machines.begin(), machines.end(), [&](const auto& m) { return m.sense.input == loop.input; }) ||
                           std::any_of(script.begin(), script.end(), [&](const auto& event) { return event.input == input.id; });
        if (!given) still.push_back(input.id);
    }
    (*board)->fit(plant::Bench{std::move(machines)});
    if (const auto error = simulation::playOn(**board, program, script, *time)) return report(*error);
    const auto& edges = (*board)->edges();
    if (!vcd.empty())
        if (const auto written = files::writeWhole(vcd, vcdOf(**board, opened->document.project, opened->plan)); !written)
            return report(written.error());
    const auto timesOn = [&](std::size_t o) {
        const int index = static_cast<int>(o);
        const double still = program.outputs[o].pulse_still / 2e6;
        return plant::onTimes(still > 0.0 ? plant::speedEdges(edges, index, still, *time) : edges, index);
    };
    Json outputs = Json::array();
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        const auto count = std::count_if(edges.begin(), edges.end(), [&](const auto& edge) { return edge.output == static_cast<int>(o); });
        const auto times = timesOn(o);
        Json on = Json::array();
        for (const auto& each : times) on.push_back({{"from_s", each.from}, {"to_s", orNull(each.to)}, {"pulses", each.pulses}});
        // The last fall of all, also where it rose once more since.
        std::optional<double> fall;
        for (const auto& edge : edges)
            if (edge.output == static_cast<int>(o) && edge.level == 0) fall = edge.time;
        outputs.push_back({{"id", program.outputs[o].id},
                           {"edges", count},
                           {"first_rise_s", times.empty() ? Json(nullptr) : Json(times.front().from)},
                           {"last_fall_s", orNull(fall)},
                           {"on", on}});
    }
    const auto seen = (*board)->observe();
    // What the loads drew by what was seen at the pins, on the tree that plan and simulate use.
    std::optional<simulation::SupplyDay> supply;
    if (const auto tree = plan::drawnTree(opened->document.project, opened->parts, opened->plan))
        supply = simulation::supplySeen(program, *tree, edges, emulator::enablesOf(**board, program), *time);
    if (json) {
        const auto& chip = (*board)->chip();
        print({{"ran_on", (*board)->what()},
               {"length_s", *time},
               {"outputs", outputs},
               {"poured_m3", seen.poured},
               {"peak_current_A", supply ? Json(supply->drawn) : Json(nullptr)},
               {"peak_time_s", supply ? Json(supply->drawn_time) : Json(nullptr)},
               {"charge_C", supply ? Json(supply->charge) : Json(nullptr)},
               {"still_readings", still},
               {"resets", chip.resets()},
               {"interrupt_share", static_cast<double>(chip.interruptCycles()) / static_cast<double>(chip.cycle())},
               {"longest_interrupt_s", static_cast<double>(chip.longestInterrupt()) / chip.clock()}});
    } else {
        std::cout << (*board)->what() << ", " << display(Kind::Duration, *time) << '\n';
        constexpr std::size_t most_lines = 50;
        for (std::size_t o = 0; o < program.outputs.size(); ++o) {
            const auto times = timesOn(o);
            std::cout << program.outputs[o].id << (times.empty() ? ": never on\n" : ":\n");
            for (std::size_t k = 0; k < std::min(most_lines, times.size()); ++k)
                std::cout << fmt::format("  on at {:.4f} s, {}{}\n", times[k].from,
                                         times[k].to ? fmt::format("off at {:.4f} s", *times[k].to) : "still on at the end",
                                         times[k].pulses > 1 ? fmt::format(", {} pulses", times[k].pulses) : "");
            if (times.size() > most_lines)
                std::cout << fmt::format("  and {} times more; --json has them all\n", times.size() - most_lines);
        }
        if (std::any_of(opened->document.project.channels.begin(), opened->document.project.channels.end(),
                        [](const auto& channel) { return std::holds_alternative<project::PumpDemand>(channel.demand); }))
            std::cout << fmt::format("poured {}\n", display(Kind::Volume, seen.poured));
        if (supply)
            std::cout << fmt::format("drawn {} at most, at {:.3f} s; {:.3g} C in all\n", display(Kind::Current, supply->drawn),
                                     supply->drawn_time, supply->charge);
        for (const auto& id : still)
            std::cout << fmt::format("{}: its reading stood still: no machine on the bench gives it, nor does --events\n", id);
        auto& chip = (*board)->chip();
        std::cout << fmt::format("interrupts took {} of the processor, the longest {}\n",
                                 display(Kind::Fraction, static_cast<double>(chip.interruptCycles()) / static_cast<double>(chip.cycle())),
                                 display(Kind::Duration, static_cast<double>(chip.longestInterrupt()) / chip.clock()));
    }
    return Done;
}

Json widthsJson(const capture::Widths& widths) {
    if (widths.count == 0)
        return {{"count", 0},           {"mean_s", nullptr},    {"shortest_s", nullptr},
                {"longest_s", nullptr}, {"typical_s", nullptr}, {"deviation_s", nullptr}};
    return {{"count", widths.count},       {"mean_s", widths.mean},       {"shortest_s", widths.shortest},
            {"longest_s", widths.longest}, {"typical_s", widths.typical}, {"deviation_s", widths.deviation}};
}

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
    const bool breaks = std::any_of(checks.begin(), checks.end(), [](const auto& check) { return check.verdict == Verdict::Breaks; });
    if (json) {
        Json signals = Json::array();
        for (const auto& s : capture->signals) {
            Json bursts = Json::array();
            for (const auto& b : s.bursts)
                bursts.push_back({{"start_s", b.start},
                                  {"end_s", b.end},
                                  {"pulses", b.pulses},
                                  {"peak_rate_Hz", b.peak_rate},
                                  {"first_interval_s", b.first_interval},
                                  {"acceleration_Hz_per_s", orNull(b.acceleration)},
                                  {"deceleration_Hz_per_s", orNull(b.deceleration)}});
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
                               {"bursts", bursts}});
        }
        Json remarks = Json::array();
        for (const auto& remark : capture->remarks) remarks.push_back({{"id", remark.id}, {"severity", "note"}, {"text", remark.text}});
        Json answer{{"capture", path},
                    {"format", nameOf(capture->format)},
                    {"bytes", capture->bytes},
                    {"length_s", capture->length},
                    {"time_step_s", capture->time_step},
                    {"signals", signals},
                    {"findings", remarks}};
        if (!against.empty()) {
            answer["checks"] = Json::array();
            for (const auto& c : checks)
                answer["checks"].push_back({{"signal", c.signal},
                                            {"channel", c.channel},
                                            {"what", c.what},
                                            {"measured", c.measured},
                                            {"planned", c.planned},
                                            {"least", c.least},
                                            {"most", c.most},
                                            {"verdict", word(c.verdict)},
                                            {"text", c.text}});
        }
        print(answer);
        return strict && breaks ? DoneAndBreaks : Done;
    }
    std::cout << fmt::format("{}, {} lines, {}\n", labelOf(capture->format), capture->signals.size(),
                             display(Kind::Duration, capture->length));
    for (const auto& s : capture->signals) {
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
    for (const auto& remark : capture->remarks) std::cout << fmt::format("note: {} ({})\n", remark.text, remark.id);
    for (const auto& check : checks)
        std::cout << fmt::format("{:<10} {}, {}: {} of {}\n", word(check.verdict), check.channel, check.what,
                                 display(check.kind, check.measured, 4), display(check.kind, check.planned, 4))
                  << (check.text.empty() ? "" : "           " + check.text + "\n");
    if (!against.empty() && checks.empty())
        std::cout << "No line of the capture bears a channel's id, name or pin: name one to lay it against the plan.\n";
    return strict && breaks ? DoneAndBreaks : Done;
}

int main(int argc, char** argv) {
    CLI::App app{"Hinge Spark on a terminal: select, calculate, simulate, prove, emit and run."};
    app.require_subcommand(1);
    bool json = false, strict = false;
    std::string project, channel, catalogue, swap, length = "30s", events, csv, out, vcd, capture_path, against, threshold, firmware_path,
                                                   port;
    bool made_safe = false;
    int status = Done;

    auto* work_verb = app.add_subcommand("work", "one working: work NAME k=v …; without a name, the list")->prefix_command();
    auto* plan_verb = app.add_subcommand("plan", "headline, verdicts, rails, pins and findings of a project");
    auto* match_verb = app.add_subcommand("match", "ranked candidates of a channel, or what a swap would change");
    auto* parts_verb = app.add_subcommand("parts", "what of a catalogue was read, and what was not");
    auto* simulate_verb = app.add_subcommand("simulate", "the gadget over time");
    auto* prove_verb = app.add_subcommand("prove-interlocks", "explore every reachable state");
    auto* report_verb = app.add_subcommand("report", "the packet: all that a stranger needs to build it, as one page, a folder or a zip");
    auto* emit_verb = app.add_subcommand("emit", "the sketch, its parameters, wiring list and parts list");
    auto* run_verb = app.add_subcommand("run", "the emitted sketch, compiled, on the emulated board");
    auto* measure_verb =
        app.add_subcommand("measure", "frequency, duty, pulse widths and step intervals of every line in a VCD or CSV capture");
    measure_verb->add_option("CAPTURE", capture_path, "a VCD or CSV file")->required();
    measure_verb->add_option("--against", against, "project: lay the lines against its plan");
    measure_verb->add_option("--catalogue", catalogue, "folder with one CSV file for each kind of part");
    measure_verb->add_option("--threshold", threshold, "analogue lines are high above it, such as 1.5V");
    measure_verb->add_flag("--json", json, "as JSON");
    measure_verb->add_flag("--strict", strict, "exit 1 when something breaks");
    auto* schema_verb = app.add_subcommand("schema", "the JSON Schema of the project file");
    for (auto* verb : {plan_verb, match_verb, simulate_verb, prove_verb, emit_verb, report_verb, run_verb}) {
        verb->add_option("PROJECT", project, "project folder or project.json")->required();
        verb->add_option("--catalogue", catalogue, "folder with one CSV file for each kind of part");
    }
    match_verb->add_option("CHANNEL", channel, "id of a channel")->required();
    match_verb->add_option("--swap", swap, "PART or PART,DRIVER: every difference it makes; nothing is changed");
    parts_verb->add_option("FOLDER", catalogue, "folder of CSV files; the shipped one without");
    parts_verb->add_option("--csv", csv, "write the rows left out here");
    parts_verb->add_flag("--json", json, "as JSON");
    for (auto* verb : {plan_verb, match_verb, simulate_verb, prove_verb, run_verb}) verb->add_flag("--json", json, "as JSON");
    plan_verb->add_flag("--strict", strict, "exit 1 when something breaks");
    simulate_verb->add_option("--for", length, "how long, such as 30s or 24h");
    simulate_verb->add_option("--events", events, "CSV: time,what,value");
    simulate_verb->add_option("--csv", csv, "write the samples here");
    std::string packet_day;
    report_verb->add_option("--out", out, "NAME.html, NAME.zip, or a folder: the page with everything in it open beside it")->required();
    report_verb->add_option("--day", packet_day, "the day that stands on it, such as 2026-11-26; what is due is counted from it");
    emit_verb->add_option("--out", out, "folder to write into")->required();
    bool single_file = false;
    emit_verb->add_flag("--single-file", single_file, "one file, the runtime's headers in it");
    std::vector<std::string> without;
    for (auto* verb : {emit_verb, run_verb})
        verb->add_option("--without", without, "id of a channel that is left out on purpose; once for each")->take_all();
    run_verb->add_option("--for", length, "how long, such as 5s")->required();
    run_verb->add_option("--events", events, "CSV: time,what,value");
    run_verb->add_option("--vcd", vcd, "write the pins' edges here");

    schema_verb->callback([] { print(store::projectSchema()); });
    work_verb->callback([&] { status = work(work_verb->remaining(), json, strict); });
    plan_verb->callback([&] { status = showPlan(project, catalogue, json, strict); });
    match_verb->callback([&] { status = showMatch(project, channel, catalogue, swap, json); });
    parts_verb->callback([&] { status = checkParts(catalogue, csv, json); });
    simulate_verb->callback([&] { status = simulate(project, catalogue, length, events, csv, json); });
    prove_verb->callback([&] { status = proveInterlocks(project, catalogue, json); });
    report_verb->callback([&] {
        const auto opened = open(project, catalogue, true);
        status = opened ? packet(opened->document, opened->parts, opened->evidence, opened->plan, project, packet_day, out)
                        : report(opened.error());
    });
    emit_verb->callback([&] { status = emit(project, catalogue, without, out, single_file); });
    std::string log_file;
    auto* runs_verb = app.add_subcommand("run-log", "what a gadget has done, by a CSV of its runs, and whether a fault is gone");
    runs_verb->add_option("FILE", log_file, "CSV with a header: time, and any of trigger, action, duration, amount, current, fault")
        ->required();
    runs_verb->add_flag("--json", json, "as JSON");
    runs_verb->callback([&] { status = runLog(log_file, json); });

    std::string first_day;
    auto* calendar_verb = app.add_subcommand("calendar", "the schedule and what is due, as iCalendar");
    calendar_verb->add_option("PROJECT", project, "project folder or project.json")->required();
    calendar_verb->add_option("--from", first_day, "first day, such as 2026-11-26")->required();
    calendar_verb->add_option("--out", out, "file; standard output without");
    calendar_verb->callback([&] {
        const auto from = timing::parseDate(first_day);
        const auto document = store::load(project);
        if (!from) status = report(from.error());
        else if (!document) status = report(document.error());
        else status = calendar(document->project, *from, out);
    });

    std::vector<std::string> seen;
    auto* fault_verb =
        app.add_subcommand("find-fault", "what may be wrong with a channel, after what was seen, and the test that tells most");
    fault_verb->add_option("PROJECT", project, "project folder or project.json")->required();
    fault_verb->add_option("CHANNEL", channel, "id of the channel that fails")->required();
    fault_verb->add_option("--seen", seen, "TEST=OUTCOME, as often as needed; symptom=nothing is the first");
    fault_verb->add_option("--catalogue", catalogue, "folder with one CSV file for each kind of part");
    fault_verb->add_flag("--json", json, "as JSON");
    fault_verb->callback([&] {
        const auto opened = open(project, catalogue, false);
        status = opened ? findFault(opened->document.project, opened->parts, opened->plan, channel, seen, json) : report(opened.error());
    });

    std::string day, instead;
    const auto ofProof = [&](const char* name, const char* what) {
        auto* verb = app.add_subcommand(name, what);
        verb->add_option("PROJECT", project, "project folder or project.json")->required();
        verb->add_option("--catalogue", catalogue, "folder with one CSV file for each kind of part");
        return verb;
    };
    // Opens the project, and hands on what its plan says of building and keeping it.
    const auto withProved = [&](auto&& show) {
        const auto opened = open(project, catalogue, false);
        status = opened ? show(*opened, proof::proved(opened->document.project, opened->parts,
                                                      plan::evaluate(opened->document.project, opened->parts)))
                        : report(opened.error());
    };
    auto* steps_verb = ofProof("bring-up", "the hold points of the first power-up, with what each should read");
    steps_verb->add_flag("--json", json, "as JSON");
    steps_verb->callback([&] { withProved([&](const Opened&, const proof::Proved& proved) { return bringUp(proved, json); }); });
    auto* inspect_verb = ofProof("inspect", "the pieces that were tried before they are built in: accept, suspect, reject");
    inspect_verb->add_flag("--json", json, "as JSON");
    inspect_verb->add_flag("--strict", strict, "exit 1 when a piece is rejected");
    inspect_verb->callback(
        [&] { withProved([&](const Opened&, const proof::Proved& proved) { return inspectBags(proved, json, strict); }); });
    auto* fit_verb = ofProof("fit", "lengths and fits: horns, shafts, screws, belts, printed arms, the case");
    fit_verb->add_flag("--json", json, "as JSON");
    fit_verb->add_flag("--strict", strict, "exit 1 when something breaks");
    fit_verb->callback([&] {
        withProved(
            [&](const Opened& opened, const proof::Proved& proved) { return showFit(opened.document.project, proved, json, strict); });
    });
    auto* account_verb = ofProof("account", "parts, spares, money and waiting; with --instead, what could stand in");
    account_verb->add_option("--instead", instead, "id of a part of the gadget");
    account_verb->add_flag("--json", json, "as JSON");
    account_verb->callback([&] {
        withProved([&](const Opened& opened, const proof::Proved& proved) {
            return showAccount(opened.document.project, opened.parts, opened.plan, proved, instead, json);
        });
    });
    auto* care_verb = ofProof("care", "what has to be done again and again, and when next");
    care_verb->add_option("--day", day, "today, such as 2026-11-26")->required();
    care_verb->add_flag("--json", json, "as JSON");
    care_verb->callback([&] {
        withProved([&](const Opened& opened, const proof::Proved&) {
            return showCare(opened.document.project, opened.parts, opened.plan, day, json);
        });
    });
    auto* test_verb = ofProof("test-sketch", "a sketch that moves one channel only, for its hold points");
    test_verb->add_option("CHANNEL", channel, "id of a channel")->required();
    test_verb->add_option("--out", out, "folder to write into")->required();
    test_verb->callback([&] {
        withProved(
            [&](const Opened& opened, const proof::Proved&) { return emitTest(opened.document.project, opened.parts, channel, out); });
    });

    std::string loop_id, search, tune_csv;
    auto* tune_verb =
        app.add_subcommand("tune", "a loop of the routine on its model: what its gains do, its margins, and gains found by search");
    tune_verb->add_option("PROJECT", project, "project folder or project.json")->required();
    tune_verb->add_option("LOOP", loop_id, "id of the loop; the first one without");
    tune_verb->add_option("--catalogue", catalogue, "folder with one CSV file for each kind of part");
    tune_verb->add_option("--search", search, "find gains: calm, quick, quiet or cool");
    tune_verb->add_option("--csv", tune_csv, "write the run");
    tune_verb->add_flag("--json", json, "as JSON");
    tune_verb->callback([&] {
        const auto opened = open(project, catalogue, false);
        status =
            opened ? tune(opened->document.project, opened->parts, opened->plan, loop_id, search, tune_csv, json) : report(opened.error());
    });

    auto* examine_verb =
        app.add_subcommand("examine", "a sketch of your own: what its pins do against the plan, how long its loop takes, and its habits");
    examine_verb->add_option("FIRMWARE", firmware_path, ".ino, .cpp, .hex or .elf")->required();
    examine_verb->add_option("PROJECT", project, "project folder or project.json")->required();
    examine_verb->add_option("--catalogue", catalogue, "folder with one CSV file for each kind of part");
    examine_verb->add_option("--for", length, "how long, such as 5s")->required();
    examine_verb->add_option("--events", events, "CSV: time,what,value");
    examine_verb->add_flag("--json", json, "as JSON");
    examine_verb->callback([&] {
        const auto opened = open(project, catalogue, false);
        status = opened ? examine(opened->document.project, opened->parts, opened->plan, firmware_path, length, events, json)
                        : report(opened.error());
    });
    auto* upload_verb = app.add_subcommand("upload", "the emitted sketch, compiled, onto the board on a port");
    upload_verb->add_option("PROJECT", project, "project folder or project.json")->required();
    upload_verb->add_option("--catalogue", catalogue, "folder with one CSV file for each kind of part");
    upload_verb->add_option("--port", port, "such as /dev/ttyACM0")->required();
    upload_verb->add_flag("--made-safe", made_safe, "horns are off and the load supply is off");
    upload_verb->callback([&] {
        const auto opened = open(project, catalogue, false);
        status = opened ? uploadSketch(opened->document.project, opened->plan, port, made_safe) : report(opened.error());
    });
    run_verb->callback([&] { status = run(project, catalogue, without, length, events, vcd, json); });
    measure_verb->callback([&] { status = measure(capture_path, against, catalogue, threshold, json, strict); });
    if (argc > 1 && argv[1][0] != '-') {
        std::vector<std::string> verbs;
        for (const auto* verb : app.get_subcommands({})) verbs.push_back(verb->get_name());
        if (std::find(verbs.begin(), verbs.end(), argv[1]) == verbs.end())
            return report({ErrorCode::Unknown, "verb", argv[1], "one of " + joined(verbs, ", ")});
    }
    try {
        app.parse(argc, argv);
    } catch (const CLI::CallForHelp& help) {
        return app.exit(help);
    } catch (const CLI::CallForAllHelp& help) {
        return app.exit(help);
    } catch (const CLI::ParseError& error) {
        std::string text = error.what();
        std::replace(text.begin(), text.end(), '\n', ' ');
        std::cerr << text << '\n';
        return BadRequest;
    }
    return status;
}

}  // namespace
}  // namespace hinge::cli

int main(int argc, char** argv) {
    try {
        const int status = hinge::cli::main(argc, argv);
        // An answer that did not come out whole is no answer.
        errno = 0;
        if (std::cout.flush()) return status;
        std::cerr << "standard output could not be written" << (errno != 0 ? std::string{" ("} + std::strerror(errno) + ")" : std::string{})
                  << "; free some space, or write it elsewhere\n";
        return hinge::cli::NotHere;
    } catch (const std::exception& error) {  // a library's; ours are values
        std::cerr << error.what() << '\n';
        return hinge::cli::NotHere;
    }
}
