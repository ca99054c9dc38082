// hinge-spark-cli: the same answers as the window's, on a terminal.
#include <CLI/CLI.hpp>
#include <algorithm>
#include <cerrno>
#include <cstring>
#include <iostream>
#include <utility>
#include "cli/exit_status.hpp"
#include "cli/fault_verb.hpp"
#include "cli/opened.hpp"
#include "cli/proof_verbs.hpp"
#include "cli/tune_verb.hpp"
#include "cli/verbs.hpp"
#include "proof/proved.hpp"
#include "quantity/text.hpp"
#include "store/json.hpp"

namespace hinge::cli {
namespace {

/// The verbs with what may be said to them; each option is a member, and each verb sets the status.
class Terminal {
public:
    Terminal() {
        app_.require_subcommand(1);
        ofThePlan();
        ofTheSketch();
        ofTheLog();
        ofProof();
        ofTheBench();
    }
    int run(int argc, char** argv) {
        if (argc > 1 && argv[1][0] != '-') {
            std::vector<std::string> verbs;
            for (const auto* verb : app_.get_subcommands({})) verbs.push_back(verb->get_name());
            if (std::find(verbs.begin(), verbs.end(), argv[1]) == verbs.end())
                return report({ErrorCode::Unknown, "verb", argv[1], "one of " + joined(verbs, ", ")});
        }
        try {
            app_.parse(argc, argv);
        } catch (const CLI::CallForHelp& help) {
            return app_.exit(help);
        } catch (const CLI::CallForAllHelp& help) {
            return app_.exit(help);
        } catch (const CLI::ParseError& error) {
            std::string text = error.what();
            std::replace(text.begin(), text.end(), '\n', ' ');
            std::cerr << text << '\n';
            return BadRequest;
        }
        return status_;
    }

private:
    CLI::App* verb(const char* name, const char* what) { return app_.add_subcommand(name, what); }
    CLI::App* ofProject(const char* name, const char* what) {
        auto* made = verb(name, what);
        made->add_option("PROJECT", project_, "project folder or project.json")->required();
        made->add_option("--catalogue", catalogue_, "folder with one CSV file for each kind of part");
        return made;
    }
    void json(CLI::App* of) { of->add_flag("--json", json_, "as JSON"); }
    void strict(CLI::App* of, const char* what) { of->add_flag("--strict", strict_, what); }
    /// Opens the project when the verb is said, and hands it on.
    template <class Show>
    void opening(CLI::App* of, Show show, bool prove = false) {
        of->callback([this, show, prove] {
            const auto opened = open(project_, catalogue_, prove);
            status_ = opened ? show(*opened) : report(opened.error());
        });
    }
    /// The same with what its plan says of building and keeping it.
    template <class Show>
    void proving(CLI::App* of, Show show) {
        opening(of, [show](const Opened& opened) {
            return show(opened,
                        proof::proved(opened.document.project, opened.parts, plan::evaluate(opened.document.project, opened.parts)));
        });
    }

    void ofThePlan() {
        auto* work_verb = verb("work", "one working: work NAME k=v …; without a name, the list")->prefix_command();
        work_verb->callback([this, work_verb] { status_ = work(work_verb->remaining(), json_, strict_); });
        auto* plan_verb = ofProject("plan", "headline, verdicts, rails, pins and findings of a project");
        json(plan_verb), strict(plan_verb, "exit 1 when something breaks");
        plan_verb->callback([this] { status_ = showPlan(project_, catalogue_, json_, strict_); });
        auto* match_verb = ofProject("match", "ranked candidates of a channel, or what a swap would change");
        match_verb->add_option("CHANNEL", channel_, "id of a channel")->required();
        match_verb->add_option("--swap", swap_, "PART or PART,DRIVER: every difference it makes; nothing is changed");
        json(match_verb);
        match_verb->callback([this] { status_ = showMatch(project_, channel_, catalogue_, swap_, json_); });
        auto* parts_verb = verb("parts", "what of a catalogue was read, and what was not");
        parts_verb->add_option("FOLDER", catalogue_, "folder of CSV files; the shipped one without");
        parts_verb->add_option("--csv", csv_, "write the rows left out here");
        json(parts_verb);
        parts_verb->callback([this] { status_ = checkParts(catalogue_, csv_, json_); });
        auto* simulate_verb = ofProject("simulate", "the gadget over time");
        simulate_verb->add_option("--for", length_, "how long, such as 30s or 24h");
        simulate_verb->add_option("--events", events_, "CSV: time,what,value");
        simulate_verb->add_option("--csv", csv_, "write the samples here");
        json(simulate_verb);
        simulate_verb->callback([this] { status_ = simulate(project_, catalogue_, length_, events_, csv_, json_); });
        auto* prove_verb = ofProject("prove-interlocks", "explore every reachable state");
        json(prove_verb);
        prove_verb->callback([this] { status_ = proveInterlocks(project_, catalogue_, json_); });
    }

    void ofTheSketch() {
        auto* report_verb = ofProject("report", "the packet: all that a stranger needs to build it, as one page, a folder or a zip");
        report_verb->add_option("--out", out_, "NAME.html, NAME.zip, or a folder: the page with everything in it open beside it")
            ->required();
        report_verb->add_option("--day", day_, "the day that stands on it, such as 2026-11-26; what is due is counted from it");
        opening(
            report_verb,
            [this](const Opened& opened) {
                return packet(opened.document, opened.parts, opened.evidence, opened.plan, project_, day_, out_);
            },
            true);
        auto* emit_verb = ofProject("emit", "the sketch, its parameters, wiring list and parts list, and the wiring as a deck for ngspice");
        emit_verb->add_option("--out", out_, "folder to write into")->required();
        emit_verb->add_flag("--single-file", single_file_, "one file, the runtime's headers in it");
        emit_verb->callback([this] { status_ = emit(project_, catalogue_, without_, out_, single_file_); });
        auto* run_verb = ofProject("run", "the emitted sketch, compiled, on the emulated board");
        json(run_verb);
        for (auto* each : {emit_verb, run_verb})
            each->add_option("--without", without_, "id of a channel that is left out on purpose; once for each")->take_all();
        run_verb->add_option("--for", length_, "how long, such as 5s")->required();
        run_verb->add_option("--events", events_, "CSV: time,what,value");
        run_verb->add_option("--vcd", vcd_, "write the pins' edges here");
        run_verb->callback([this] { status_ = cli::run(project_, catalogue_, without_, length_, events_, vcd_, json_); });
        auto* measure_verb = verb("measure", "frequency, duty, pulse widths and step intervals of every line in a VCD or CSV capture");
        measure_verb->add_option("CAPTURE", capture_, "a VCD or CSV file")->required();
        measure_verb->add_option("--against", against_, "project: lay the lines against its plan");
        measure_verb->add_option("--catalogue", catalogue_, "folder with one CSV file for each kind of part");
        measure_verb->add_option("--threshold", threshold_, "analogue lines are high above it, such as 1.5V");
        json(measure_verb), strict(measure_verb, "exit 1 when something breaks");
        measure_verb->callback([this] { status_ = measure(capture_, against_, catalogue_, threshold_, json_, strict_); });
        verb("schema", "the JSON Schema of the project file")->callback([] { print(store::projectSchema()); });
    }

    void ofTheLog() {
        auto* runs_verb = verb("run-log", "what a gadget has done, by a CSV of its runs, and whether a fault is gone");
        runs_verb->add_option("FILE", log_file_, "CSV with a header: time, and any of trigger, action, duration, amount, current, fault")
            ->required();
        json(runs_verb);
        runs_verb->callback([this] { status_ = runLog(log_file_, json_); });
        auto* calendar_verb = verb("calendar", "the schedule and what is due, as iCalendar");
        calendar_verb->add_option("PROJECT", project_, "project folder or project.json")->required();
        calendar_verb->add_option("--from", day_, "first day, such as 2026-11-26")->required();
        calendar_verb->add_option("--out", out_, "file; standard output without");
        calendar_verb->callback([this] {
            const auto from = timing::parseDate(day_);
            const auto document = store::load(project_);
            if (!from) status_ = report(from.error());
            else if (!document) status_ = report(document.error());
            else status_ = calendar(document->project, *from, out_);
        });
        auto* fault_verb = ofProject("find-fault", "what may be wrong with a channel, after what was seen, and the test that tells most");
        fault_verb->add_option("CHANNEL", channel_, "id of the channel that fails")->required();
        fault_verb->add_option("--seen", seen_, "TEST=OUTCOME, as often as needed; symptom=nothing is the first");
        json(fault_verb);
        opening(fault_verb, [this](const Opened& opened) {
            return findFault(opened.document.project, opened.parts, opened.plan, channel_, seen_, json_);
        });
    }

    void ofProof() {
        auto* steps_verb = ofProject("bring-up", "the hold points of the first power-up, with what each should read");
        json(steps_verb);
        proving(steps_verb, [this](const Opened&, const proof::Proved& proved) { return bringUp(proved, json_); });
        auto* inspect_verb = ofProject("inspect", "the pieces that were tried before they are built in: accept, suspect, reject");
        json(inspect_verb), strict(inspect_verb, "exit 1 when a piece is rejected");
        proving(inspect_verb, [this](const Opened&, const proof::Proved& proved) { return inspectBags(proved, json_, strict_); });
        auto* fit_verb = ofProject("fit", "lengths and fits: horns, shafts, screws, belts, printed arms, the case");
        json(fit_verb), strict(fit_verb, "exit 1 when something breaks");
        proving(fit_verb, [this](const Opened& opened, const proof::Proved& proved) {
            return showFit(opened.document.project, proved, json_, strict_);
        });
        auto* account_verb = ofProject("account", "parts, spares, money and waiting; with --instead, what could stand in");
        account_verb->add_option("--instead", instead_, "id of a part of the gadget");
        json(account_verb);
        proving(account_verb, [this](const Opened& opened, const proof::Proved& proved) {
            return showAccount(opened.document.project, opened.parts, opened.plan, proved, instead_, json_);
        });
        auto* care_verb = ofProject("care", "what has to be done again and again, and when next");
        care_verb->add_option("--day", day_, "today, such as 2026-11-26")->required();
        json(care_verb);
        proving(care_verb, [this](const Opened& opened, const proof::Proved&) {
            return showCare(opened.document.project, opened.parts, opened.plan, day_, json_);
        });
        auto* test_verb = ofProject("test-sketch", "a sketch that moves one channel only, for its hold points");
        test_verb->add_option("CHANNEL", channel_, "id of a channel")->required();
        test_verb->add_option("--out", out_, "folder to write into")->required();
        proving(test_verb, [this](const Opened& opened, const proof::Proved&) {
            return emitTest(opened.document.project, opened.parts, channel_, out_);
        });
    }

    void ofTheBench() {
        auto* tune_verb = verb("tune", "a loop of the routine on its model: what its gains do, its margins, and gains found by search");
        tune_verb->add_option("PROJECT", project_, "project folder or project.json")->required();
        tune_verb->add_option("LOOP", loop_, "id of the loop; the first one without");
        tune_verb->add_option("--catalogue", catalogue_, "folder with one CSV file for each kind of part");
        tune_verb->add_option("--search", search_, "find gains: calm, quick, quiet or cool");
        tune_verb->add_option("--csv", csv_, "write the run");
        json(tune_verb);
        opening(tune_verb, [this](const Opened& opened) {
            return tune(opened.document.project, opened.parts, opened.plan, loop_, search_, csv_, json_);
        });
        auto* examine_verb =
            verb("examine", "a sketch of your own: what its pins do against the plan, how long its loop takes, and its habits");
        examine_verb->add_option("FIRMWARE", firmware_, ".ino, .cpp, .hex or .elf")->required();
        examine_verb->add_option("PROJECT", project_, "project folder or project.json")->required();
        examine_verb->add_option("--catalogue", catalogue_, "folder with one CSV file for each kind of part");
        examine_verb->add_option("--for", length_, "how long, such as 5s")->required();
        examine_verb->add_option("--events", events_, "CSV: time,what,value");
        json(examine_verb);
        opening(examine_verb, [this](const Opened& opened) {
            return examine(opened.document.project, opened.parts, opened.plan, firmware_, length_, events_, json_);
        });
        auto* upload_verb = ofProject("upload", "the emitted sketch, compiled, onto the board on a port");
        upload_verb->add_option("--port", port_, "such as /dev/ttyACM0")->required();
        upload_verb->add_flag("--made-safe", made_safe_, "horns are off and the load supply is off");
        opening(upload_verb,
                [this](const Opened& opened) { return uploadSketch(opened.document.project, opened.plan, port_, made_safe_); });
    }

    CLI::App app_{"Hinge Spark on a terminal: select, calculate, simulate, prove, emit and run."};
    bool json_ = false, strict_ = false, single_file_ = false, made_safe_ = false;
    std::string project_, channel_, catalogue_, swap_, length_ = "30s", events_, csv_, out_, vcd_, capture_, against_, threshold_,
                                                       firmware_, port_, day_, log_file_, instead_, loop_, search_;
    std::vector<std::string> without_, seen_;
    int status_ = Done;
};

}  // namespace
}  // namespace hinge::cli

namespace {

/// Output in which no byte of a stranger's name is an order to the terminal: control characters but the ends of lines and tabs become
/// question marks, and those that two bytes of UTF-8 make.
class Harmless final : public std::streambuf {
public:
    explicit Harmless(std::ostream& of) : of_{of}, under_{of.rdbuf()} { of_.rdbuf(this); }
    ~Harmless() override {
        (void)letGo(traits_type::eof());
        of_.rdbuf(under_);
    }
    Harmless(const Harmless&) = delete;
    Harmless& operator=(const Harmless&) = delete;

protected:
    int_type overflow(int_type c) override {
        if (traits_type::eq_int_type(c, traits_type::eof())) return traits_type::not_eof(c);
        const auto u = static_cast<unsigned char>(traits_type::to_char_type(c));
        if (held_ == 0xC2 && u >= 0x80 && u < 0xA0) {
            held_ = 0;
            return under_->sputc('?');
        }
        if (traits_type::eq_int_type(letGo(c), traits_type::eof())) return traits_type::eof();
        if (u == 0xC2 || u == '\r') {
            held_ = u;
            return c;
        }
        return under_->sputc((u < 0x20 && u != '\n' && u != '\t') || u == 0x7F ? '?' : static_cast<char>(u));
    }
    int sync() override { return under_->pubsync(); }

private:
    // What waited for the next byte: a carriage return is one only before a line's end.
    int_type letGo(int_type next) {
        const auto held = std::exchange(held_, static_cast<unsigned char>(0));
        if (held == 0) return traits_type::not_eof(next);
        const bool ends = held == '\r' && !traits_type::eq_int_type(next, traits_type::to_int_type('\n'));
        return under_->sputc(ends ? '?' : static_cast<char>(held));
    }
    std::ostream& of_;
    std::streambuf* under_;
    unsigned char held_ = 0;
};

}  // namespace

int main(int argc, char** argv) {
    const Harmless out{std::cout}, err{std::cerr};
    try {
        const int status = hinge::cli::Terminal().run(argc, argv);
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
