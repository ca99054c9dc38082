#include "cli/json.hpp"
#include "quantity/units.hpp"

namespace hinge::cli {
namespace {

Json shown(const Shown& value) {
    Json json = Json::object();
    json["value"] = std::visit(
        [](const auto& v) -> Json {
            if constexpr (std::is_same_v<std::decay_t<decltype(v)>, std::monostate>) return nullptr;
            else return v;
        },
        value.value);
    json["unit"] = value.unit;
    return json;
}

Json findingsOf(const std::vector<Finding>& findings) {
    Json list = Json::array();
    for (const auto& finding : findings) list.push_back({{"id", finding.id}, {"severity", word(finding.severity)}, {"text", finding.text}});
    return list;
}

template <Measurable Q>
Json optional(const std::optional<Q>& value) {
    return value ? Json(si(*value)) : Json(nullptr);
}
template <Measurable Q>
Json measured(const std::optional<Q>& value) {
    return {{"value", optional(value)}, {"unit", siUnit(kindOf<Q>)}};
}

}  // namespace

Json toJson(const Answer& answer) {
    Json json = Json::object();
    json["work"] = answer.work;
    json["inputs"] = Json::object();
    for (const auto& input : answer.inputs) json["inputs"][input.name] = shown(input);
    json["results"] = Json::object();
    for (const auto& result : answer.results) json["results"][result.name] = shown(result);
    json["verdict"] = word(answer.verdict);
    json["findings"] = findingsOf(answer.findings);
    json["steps"] = Json::array();
    for (const auto& step : answer.steps)
        json["steps"].push_back({{"symbol", step.symbol},
                                 {"meaning", step.meaning},
                                 {"formula", step.formula},
                                 {"substituted", step.substituted},
                                 {"value", step.value ? Json(*step.value) : Json(nullptr)},
                                 {"unit", step.unit},
                                 {"source", step.source}});
    return json;
}

Json toJson(const plan::Plan& plan) {
    Json json = Json::object();
    const auto& h = plan.headline;
    Json sources = Json::array();
    for (const auto& source : h.sources)
        sources.push_back(
            {{"name", source.name}, {"worst_current", measured(source.worst)}, {"source_current", measured(source.promised)}});
    json["headline"] = {{"name", h.name},
                        {"sources", std::move(sources)},
                        {"verdict", word(plan.verdict)},
                        {"worst_current", measured(h.worst_current)},
                        {"source_current", measured(h.source_current)},
                        {"lowest_logic", measured(h.lowest_logic)},
                        {"logic_floor", measured(h.logic_floor)},
                        {"breaks", h.breaks},
                        {"tight", h.tight},
                        {"unknown", h.unknown},
                        {"to_do", h.to_do}};
    json["channels"] = Json::array();
    for (const auto& channel : plan.channels) {
        Json cells = Json::object();
        for (std::size_t i = 0; i < channel.cells.size(); ++i) {
            const auto& cell = channel.cells[i];
            cells[nameOf(static_cast<project::Stage>(i))] = {
                {"figure", cell.figure},         {"small", cell.small}, {"why", cell.why},
                {"verdict", word(cell.verdict)}, {"to_do", cell.to_do}, {"share", cell.share ? Json(*cell.share) : Json(nullptr)}};
        }
        json["channels"].push_back({{"id", channel.id}, {"name", channel.name}, {"cells", cells}});
    }
    const auto railOf = [](const plan::RailPlan& rail) -> Json {
        return {{"id", rail.id},
                {"name", rail.name},
                {"voltage", measured(rail.voltage)},
                {"lowest", measured(rail.lowest)},
                {"rest", measured(rail.rest)},
                {"running", measured(rail.running)},
                {"starting", measured(rail.starting)},
                {"stalled", measured(rail.stalled)},
                {"worst", measured(rail.most)},
                {"least", measured(rail.least)},
                {"culprits", rail.culprits},
                {"verdict", word(rail.verdict)}};
    };
    json["rails"] = Json::array();
    for (const auto& rail : plan.rails) json["rails"].push_back(railOf(rail));
    json["sources"] = Json::array();
    for (const auto& source : plan.sources) json["sources"].push_back(railOf(source));
    if (plan.battery)
        json["battery"] = {{"source", plan.battery->source},
                           {"runtime", {{"value", si(plan.battery->runtime)}, {"unit", "s"}}},
                           {"left", {{"value", si(plan.battery->left)}, {"unit", ""}}},
                           {"by_sag", plan.battery->by_sag},
                           {"idle", {{"value", si(plan.battery->idle)}, {"unit", "A"}}},
                           {"average", {{"value", si(plan.battery->average)}, {"unit", "A"}}}};
    json["pins"] = Json::array();
    for (const auto& pin : plan.pins)
        json["pins"].push_back(
            {{"pin", pin.pin}, {"user", pin.user}, {"role", pin.role}, {"output", pin.output}, {"verdict", word(pin.verdict)}});
    json["findings"] = Json::array();
    for (const auto& finding : plan.findings) {
        Json remedies = Json::array();
        for (const auto& remedy : finding.remedies) {
            Json edits = Json::array();
            for (const auto& edit : remedy.edits) edits.push_back({{"path", edit.path}, {"value", edit.value}});
            remedies.push_back({{"label", remedy.label}, {"cost", remedy.cost}, {"edits", edits}});
        }
        json["findings"].push_back({{"id", finding.id},
                                    {"severity", word(finding.severity)},
                                    {"stage", nameOf(finding.stage)},
                                    {"channel", finding.channel},
                                    {"text", finding.text},
                                    {"remedies", remedies}});
    }
    json["missing"] = Json::array();
    for (const auto& missing : plan.missing)
        json["missing"].push_back({{"path", missing.path}, {"label", missing.label}, {"how", missing.how}});
    return json;
}

Json toJson(const match::Pairing& p) {
    const auto& n = p.numbers;
    const auto plain = [](double value) { return std::isfinite(value) ? Json(value) : Json(nullptr); };
    return {{"actuator", p.actuator},
            {"driver", p.driver},
            {"rail", p.rail},
            {"verdict", word(p.verdict)},
            {"reason", p.reason},
            {"share", plain(n.share)},
            {"flow", measured(p.flow)},
            {"head", measured(p.head)},
            {"run_time", measured(p.run_time)},
            {"move_time_s", plain(n.move_time)},
            {"running_current", measured(p.running)},
            {"starting_current", measured(p.starting)},
            {"stalled_current", measured(p.stalled)},
            {"rest_current_A", plain(n.rest)},
            {"driver_heat", measured(p.heat)},
            {"noise_dB", plain(n.noise)},
            {"mass_kg", plain(n.mass)},
            {"price", optional(p.price)},
            {"findings", findingsOf(p.findings)}};
}

Json toJson(const std::vector<match::Pairing>& candidates, const std::vector<match::Pairing>& drivers, const std::string& channel) {
    Json json = Json::object();
    json["channel"] = channel;
    json["candidates"] = Json::array();
    for (const auto& p : candidates) json["candidates"].push_back(toJson(p));
    json["drivers"] = Json::array();
    for (const auto& p : drivers) json["drivers"].push_back(toJson(p));
    return json;
}

Json toJson(const std::vector<plan::Change>& changes) {
    Json json = Json::object();
    json["changes"] = Json::array();
    for (const auto& c : changes)
        json["changes"].push_back(
            {{"stage", nameOf(c.stage)}, {"channel", c.channel}, {"what", c.what}, {"before", c.before}, {"after", c.after}});
    return json;
}

Json toJson(const simulation::Traces& traces, const simulation::SupplyDay* supply, const routine::Program& program) {
    Json json = Json::object();
    json["length_s"] = traces.length;
    // What the loads draw, as the plan counts it; null where a figure of them is not known.
    json["peak_current_A"] = supply != nullptr ? Json(supply->drawn) : Json(nullptr);
    json["peak_time_s"] = supply != nullptr ? Json(supply->drawn_time) : Json(nullptr);
    json["charge_C"] = supply != nullptr ? Json(supply->charge) : Json(nullptr);
    if (supply != nullptr) {
        json["rails"] = Json::array();
        for (std::size_t i = 0; i < supply->ids.size(); ++i)
            json["rails"].push_back(
                {{"id", supply->ids[i]}, {"lowest_V", supply->lowest[i].volts}, {"lowest_time_s", supply->lowest[i].time}});
        json["supply"] = {{"source_peak_A", supply->peak}, {"source_peak_time_s", supply->peak_time}, {"collapsed", supply->collapsed}};
    }
    json["edges"] = Json::array();
    for (const auto& s : traces.switchings) {
        json["edges"].push_back({{"time_s", s.time}, {"output", program.outputs[static_cast<std::size_t>(s.output)].id}, {"on", s.on}});
        if (s.back) json["edges"].back()["backwards"] = true;
    }
    json["samples"] = Json::array();
    for (const auto& s : traces.samples)
        json["samples"].push_back({{"time_s", s.time},
                                   {"duty", s.duty},
                                   {"current_A", supply != nullptr ? Json(supply->drawnAt(s.time)) : Json(nullptr)},
                                   {"poured_m3", s.poured}});
    return json;
}

Json toJson(const std::vector<routine::InterlockProof>& proofs) {
    Json json = Json::object();
    json["interlocks"] = Json::array();
    for (const auto& proof : proofs) {
        Json story = Json::array();
        for (const auto& event : proof.story) story.push_back({{"time_s", event.tick / 1000.0}, {"event", event.event}});
        const char* status = proof.status == routine::ProofStatus::Proved     ? "proved"
                             : proof.status == routine::ProofStatus::Violated ? "violated"
                                                                              : "bounded";
        json["interlocks"].push_back({{"id", proof.id},
                                      {"text", proof.text},
                                      {"claim", proof.claim == routine::Claim::Never ? "never" : "ends"},
                                      {"status", status},
                                      {"states", proof.states},
                                      {"depth", proof.depth},
                                      {"story", story}});
    }
    return json;
}

}  // namespace hinge::cli
