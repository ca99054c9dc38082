#include "journal/worth_it.hpp"

namespace hinge::journal {

Result<Worked<WorthItResult>> worthIt(const WorthIt& in) {
    constexpr double week = 604800.0;
    Worked<WorthItResult> out;
    auto& r = out.result;
    const double hours = si(in.hours) / 3600.0;
    const double saved = si(in.minutes_saved_per_use) / 60.0;
    r.total_cost = of<Ratio>(si(in.parts_cost) + hours * si(in.hour_value));
    r.weekly_value = of<Ratio>(saved / 60.0 * si(in.uses_per_week) * si(in.hour_value));
    addStep(out.steps, "C", "cost in all", "{parts} + {h}·{v}", {{"parts", in.parts_cost}, {"h", hours}, {"v", in.hour_value}},
            r.total_cost, "derived: cost over weekly value");
    addStep(out.steps, "W", "worth in a week", "{min}/60·{n}·{v}", {{"min", saved}, {"n", in.uses_per_week}, {"v", in.hour_value}},
            r.weekly_value, "derived: cost over weekly value");
    if (si(r.weekly_value) > 0.0) {
        const double weeks = si(r.total_cost) / si(r.weekly_value);
        r.payback_weeks = of<Duration>(weeks * week);
        auto step = makeStep("n", "weeks until it has paid", "{C}/{W}", {{"C", r.total_cost}, {"W", r.weekly_value}}, weeks, Kind::Ratio,
                             "derived: cost over weekly value");
        out.steps.push_back(std::move(step));
    } else {
        out.verdict = Verdict::Unknown;
        out.findings.push_back(
            {"worth-unknown", Severity::Note,
             "No value stands against the cost: give what an hour is worth to you, the minutes saved and the uses in a week."});
    }
    return out;
}

FormPtr worthItForm() {
    using I = WorthIt;
    using R = WorthItResult;
    auto form = std::make_shared<FormOf<I, R>>("worth-it", "log", "cost against what the gadget saves", "derived: cost over weekly value",
                                               &worthIt);
    form->rule("total = parts + hours·value; weekly = minutes/60·uses·value; payback = total/weekly")
        .in("parts_cost", &I::parts_cost, nullptr, "of all parts")
        .zeroOk()
        .in("hours", &I::hours, nullptr, "spent")
        .zeroOk()
        .bare("h")
        .in("hour_value", &I::hour_value, "0", "worth of an hour")
        .in("minutes_saved_per_use", &I::minutes_saved_per_use, nullptr, "saved at each use")
        .zeroOk()
        .bare("min")
        .in("uses_per_week", &I::uses_per_week, nullptr, "uses in a week")
        .zeroOk()
        .out("total_cost", &R::total_cost, "parts and hours")
        .out("weekly_value", &R::weekly_value, "saved in a week")
        .out("payback_weeks", &R::payback_weeks, "until it has paid", "week");
    return form;
}

Result<Worked<PreferredValueResult>> preferredValue(const PreferredValue& in) {
    Worked<PreferredValueResult> out;
    auto& r = out.result;
    r.standard = of<Ratio>(preferred(si(in.value), in.series, in.round));
    r.error = of<Fraction>(si(r.standard) / si(in.value) - 1.0);
    addStep(out.steps, "s", "preferred value", "{x} to the series", {{"x", in.value}}, r.standard, "iec-60063");
    addStep(out.steps, "e", "off by", "{s}/{x} − 1", {{"s", r.standard}, {"x", in.value}}, r.error, "definition");
    return out;
}

namespace {

/// The same working for a value with a unit: the unit is taken, and given back.
class InItsUnit final : public Form {
public:
    explicit InItsUnit(FormPtr plain) : plain_{std::move(plain)} {
        name = plain_->name, stage = plain_->stage, summary = plain_->summary, formula = plain_->formula, source = plain_->source;
        inputs = plain_->inputs, outputs = plain_->outputs;
        inputs.front().help += "; a plain number, or with its unit, such as 4.9kohm";
    }
    [[nodiscard]] Result<Answer> answer(const Given& given) const override {
        auto bare = given;
        std::string unit;
        for (auto& [key, text] : bare)
            for (const Kind kind : {Kind::Resistance, Kind::Capacitance, Kind::Inductance, Kind::Current, Kind::Voltage, Kind::Power,
                                    Kind::Duration, Kind::Frequency}) {
                if (key != "value" || parseQuantity(Kind::Ratio, text)) continue;
                const auto value = parseQuantity(kind, text);
                if (!value || *value <= 0.0) continue;
                text = exactNumber(*value);
                unit = siUnit(kind);
                break;
            }
        auto answer = plain_->answer(bare);
        if (!answer || unit.empty()) return answer;
        answer->inputs.front().unit = unit;
        answer->results.front().unit = unit;
        for (auto& step : answer->steps)
            if (step.symbol == "s") step.unit = unit;
        return answer;
    }

private:
    FormPtr plain_;
};

}  // namespace

FormPtr preferredValueForm() {
    using I = PreferredValue;
    using R = PreferredValueResult;
    auto form =
        std::make_shared<FormOf<I, R>>("preferred-value", "log", "the preferred value of an E series", "iec-60063", &preferredValue);
    form->rule("nearest by difference (tie to the lower), next up or next down of the E series")
        .in("value", &I::value, nullptr, "wanted")
        .in("series", &I::series, nullptr, "E3 to E192")
        .in("round", &I::round, nullptr, "nearest, up or down")
        .out("standard", &R::standard, "of the series")
        .out("error", &R::error, "standard/value − 1");
    return std::make_shared<InItsUnit>(form);
}

}  // namespace hinge::journal
