// `work`: one working, or the list of them.
#include <fmt/format.h>
#include <algorithm>
#include <iostream>
#include "cli/exit_status.hpp"
#include "cli/opened.hpp"
#include "cli/verbs.hpp"
#include "control/step_fit.hpp"
#include "plan/workings.hpp"
#include "quantity/text.hpp"

namespace hinge::cli {
namespace {

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

}  // namespace

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

}  // namespace hinge::cli
