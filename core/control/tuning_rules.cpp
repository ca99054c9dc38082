#include "control/tuning_rules.hpp"
#include <algorithm>
#include "quantity/constants.hpp"

namespace hinge::control {
namespace {

struct Plain {
    double kp = 0.0;
    double ti = 0.0;  // 0: none
    double td = 0.0;
};

tl::unexpected<Error> noController(Controller controller, const char* accepted) {
    return fail(ErrorCode::OutOfRange, "controller", nameOf(controller), accepted);
}

void fill(auto& to, const Plain& gains) {
    to.kp = of<Ratio>(gains.kp);
    if (gains.ti > 0.0) to.ti = of<Duration>(gains.ti);
    to.td = of<Duration>(gains.td);
    to.ki = of<Ratio>(gains.ti > 0.0 ? gains.kp / gains.ti : 0.0);
    to.kd = of<Ratio>(gains.kp * gains.td);
}

/// @param how  the formulas of kp, Ti and Td, separated by "; "
void addGainSteps(Steps& steps, const Plain& gains, const std::string& source, std::string_view how,
                  std::initializer_list<working::Term> terms) {
    const auto next = [&how] {
        const auto end = std::min(how.find("; "), how.size());
        const auto formula = how.substr(0, end);
        how.remove_prefix(std::min(end + 2, how.size()));
        return formula;
    };
    addStep(steps, "kp", "proportional gain", next(), terms, of<Ratio>(gains.kp), source);
    if (gains.ti > 0.0) addStep(steps, "Ti", "integral time", next(), terms, of<Duration>(gains.ti), source);
    if (gains.td > 0.0) addStep(steps, "Td", "derivative time", next(), terms, of<Duration>(gains.td), source);
    if (gains.ti > 0.0)
        addStep(steps, "ki", "integral gain", "{kp}/{Ti}", {{"kp", gains.kp}, {"Ti", gains.ti}}, of<Ratio>(gains.kp / gains.ti),
                "definition");
    if (gains.td > 0.0)
        addStep(steps, "kd", "derivative gain", "{kp}·{Td}", {{"kp", gains.kp}, {"Td", gains.td}}, of<Ratio>(gains.kp * gains.td),
                "definition");
}

}  // namespace

Result<Worked<Gains>> pidRule(const PidRule& in) {
    const double K = si(in.gain), T = si(in.time_constant), L = si(in.dead_time);
    if (K == 0.0) return fail(ErrorCode::OutOfRange, "gain", "0", "any number but 0");
    const bool by_time = in.rule == StepRule::Simc || in.rule == StepRule::Lambda;
    const double closed = in.closed_loop_time ? si(*in.closed_loop_time) : in.rule == StepRule::Lambda ? 3.0 * L : L;
    if (L == 0.0 && (!by_time || !in.closed_loop_time))
        return fail(ErrorCode::OutOfRange, "dead_time", "0", by_time ? "greater than 0, or give closed_loop_time" : "greater than 0");
    const double r = L / T;
    Plain g;
    std::string source, how;
    switch (in.rule) {
        case StepRule::ZieglerNichols:
            source = "ziegler-nichols-1942";
            if (in.controller == Controller::P) g = {T / (K * L), 0, 0}, how = "{T}/({K}·{L})";
            else if (in.controller == Controller::Pi) g = {0.9 * T / (K * L), L / 0.3, 0}, how = "0.9·{T}/({K}·{L}); {L}/0.3";
            else g = {1.2 * T / (K * L), 2.0 * L, 0.5 * L}, how = "1.2·{T}/({K}·{L}); 2·{L}; {L}/2";
            break;
        case StepRule::CohenCoon: {
            source = "cohen-coon-1953";
            const double base = 1.0 / (K * r);
            if (in.controller == Controller::P) g = {base * (1.0 + r / 3.0), 0, 0}, how = "(1 + {r}/3)/({K}·{r})";
            else if (in.controller == Controller::Pi)
                g = {base * (0.9 + r / 12.0), L * (30.0 + 3.0 * r) / (9.0 + 20.0 * r), 0},
                how = "(0.9 + {r}/12)/({K}·{r}); {L}·(30 + 3·{r})/(9 + 20·{r})";
            else
                g = {base * (4.0 / 3.0 + r / 4.0), L * (32.0 + 6.0 * r) / (13.0 + 8.0 * r), 4.0 * L / (11.0 + 2.0 * r)},
                how = "(4/3 + {r}/4)/({K}·{r}); {L}·(32 + 6·{r})/(13 + 8·{r}); 4·{L}/(11 + 2·{r})";
            break;
        }
        case StepRule::Simc:
            source = "skogestad-2003";
            if (in.controller != Controller::Pi) return noController(in.controller, "pi");
            g = {T / (K * (closed + L)), std::min(T, 4.0 * (closed + L)), 0};
            how = "{T}/({K}·({τc} + {L})); min({T}, 4·({τc} + {L}))";
            break;
        case StepRule::Lambda:
            source = "lambda-tuning";
            if (in.controller == Controller::P) return noController(in.controller, "pi, pid");
            if (in.controller == Controller::Pi) g = {T / (K * (closed + L)), T, 0}, how = "{T}/({K}·({τc} + {L})); {T}";
            else
                g = {(T + L / 2.0) / (K * (closed + L / 2.0)), T + L / 2.0, T * L / (2.0 * T + L)},
                how = "({T} + {L}/2)/({K}·({τc} + {L}/2)); {T} + {L}/2; {T}·{L}/(2·{T} + {L})";
            break;
        case StepRule::Amigo:
            source = "amigo-2004";
            if (in.controller == Controller::P) return noController(in.controller, "pi, pid");
            if (in.controller == Controller::Pi) {
                g = {0.15 / K + (0.35 - L * T / ((L + T) * (L + T))) * T / (K * L),
                     0.35 * L + 13.0 * L * T * T / (T * T + 12.0 * L * T + 7.0 * L * L), 0};
                how = "0.15/{K} + (0.35 − {L}·{T}/({L} + {T})²)·{T}/({K}·{L}); 0.35·{L} + 13·{L}·{T}²/({T}² + 12·{L}·{T} + 7·{L}²)";
            } else {
                g = {(0.2 + 0.45 * T / L) / K, L * (0.4 * L + 0.8 * T) / (L + 0.1 * T), 0.5 * L * T / (0.3 * L + T)};
                how = "(0.2 + 0.45·{T}/{L})/{K}; {L}·(0.4·{L} + 0.8·{T})/({L} + 0.1·{T}); 0.5·{L}·{T}/(0.3·{L} + {T})";
            }
            break;
    }
    Worked<Gains> out;
    fill(out.result, g);
    if (in.rule == StepRule::CohenCoon)
        addStep(out.steps, "r", "dead time over time constant", "{L}/{T}", {{"L", L}, {"T", T}}, of<Ratio>(r), "definition");
    addGainSteps(out.steps, g, source, how, {{"K", K}, {"T", T}, {"L", L}, {"r", r}, {"τc", closed}});
    return out;
}

FormPtr pidRuleForm() {
    using I = PidRule;
    auto form =
        std::make_shared<FormOf<I, Gains>>("pid-rule", "tune", "gains from a step response, by published rules",
                                           "ziegler-nichols-1942; cohen-coon-1953; skogestad-2003; lambda-tuning; amigo-2004", &pidRule);
    form->rule("ideal form u = kp·(e + 1/ti·∫e + td·de/dt); ki = kp/ti, kd = kp·td; each rule as published")
        .in("gain", &I::gain, nullptr, "of the step response")
        .signedOk()
        .in("time_constant", &I::time_constant, nullptr, "of the step response")
        .in("dead_time", &I::dead_time, nullptr, "of the step response")
        .zeroOk()
        .in("rule", &I::rule, nullptr, "which")
        .in("controller", &I::controller, "pid", "which parts")
        .in("closed_loop_time", &I::closed_loop_time, nullptr, "wanted")
        .otherwise("dead_time for simc, three times it for lambda")
        .out("kp", &Gains::kp, "proportional gain")
        .out("ti", &Gains::ti, "integral time", "s")
        .out("td", &Gains::td, "derivative time")
        .out("ki", &Gains::ki, "kp/ti")
        .out("kd", &Gains::kd, "kp·td");
    return form;
}

Result<Worked<RelayTuneResult>> relayTune(const RelayTune& in) {
    const double ku = 4.0 * si(in.output_amplitude) / (constants::pi * si(in.response_amplitude)), P = si(in.period);
    Plain g;
    std::string source, how;
    const bool pid = in.controller == Controller::Pid, pi = in.controller == Controller::Pi;
    switch (in.rule) {
        case RelayRule::ZieglerNichols:
            source = "ziegler-nichols-1942";
            if (pid) g = {0.6 * ku, P / 2.0, P / 8.0}, how = "0.6·{Ku}; {P}/2; {P}/8";
            else if (pi) g = {0.45 * ku, P / 1.2, 0}, how = "0.45·{Ku}; {P}/1.2";
            else return noController(in.controller, "pi, pid");
            break;
        case RelayRule::TyreusLuyben:
            source = "tyreus-luyben-1992";
            if (pid) g = {ku / 2.2, 2.2 * P, P / 6.3}, how = "{Ku}/2.2; 2.2·{P}; {P}/6.3";
            else if (pi) g = {ku / 3.2, 2.2 * P, 0}, how = "{Ku}/3.2; 2.2·{P}";
            else return noController(in.controller, "pi, pid");
            break;
        case RelayRule::NoOvershoot:
            source = "common practice, no published source";
            if (!pid) return noController(in.controller, "pid");
            g = {ku / 5.0, P / 2.0, P / 3.0};
            how = "{Ku}/5; {P}/2; {P}/3";
            break;
    }
    Worked<RelayTuneResult> out;
    out.result.ultimate_gain = of<Ratio>(ku);
    addStep(out.steps, "Ku", "gain at which it would swing by itself", "4·{d}/(π·{a})",
            {{"d", in.output_amplitude}, {"a", in.response_amplitude}}, out.result.ultimate_gain, "astrom-hagglund-1984");
    fill(out.result, g);
    fill(out.result.gains, g);
    addGainSteps(out.steps, g, source, how, {{"Ku", ku}, {"P", P}});
    return out;
}

FormPtr relayTuneForm() {
    using I = RelayTune;
    using R = RelayTuneResult;
    auto form = std::make_shared<FormOf<I, R>>("relay-tune", "tune", "gains from a relay experiment", "astrom-hagglund-1984", &relayTune);
    form->rule("Ku = 4d/(πa); each rule as published")
        .in("output_amplitude", &I::output_amplitude, nullptr, "the relay swings plus and minus this")
        .in("response_amplitude", &I::response_amplitude, nullptr, "half of peak to peak")
        .in("period", &I::period, nullptr, "of the swing")
        .in("rule", &I::rule, nullptr, "which")
        .in("controller", &I::controller, "pid", "which parts")
        .out("ultimate_gain", &R::ultimate_gain, "at which it would swing by itself")
        .out("kp", &R::kp, "proportional gain")
        .out("ti", &R::ti, "integral time", "s")
        .out("td", &R::td, "derivative time")
        .out("ki", &R::ki, "kp/ti")
        .out("kd", &R::kd, "kp·td");
    return form;
}

Result<Worked<BalanceLoopResult>> balanceLoop(const BalanceLoop& in) {
    Worked<BalanceLoopResult> out;
    auto& r = out.result;
    r.fall_time_constant = of<Duration>(std::sqrt(si(in.height) / constants::gravity));
    r.longest_period = of<Duration>(si(r.fall_time_constant) / 20.0);
    addStep(out.steps, "τ", "time in which a lean grows e-fold, wheels held in speed", "√({h}/{g})",
            {{"h", in.height}, {"g", constants::gravity}}, r.fall_time_constant, "inverted-pendulum");
    addStep(out.steps, "hmax", "longest loop period", "{τ}/20", {{"τ", r.fall_time_constant}}, r.longest_period,
            "common practice, no published source");
    if (in.distance_per_step) {
        r.lean_per_step = of<Angle>(si(*in.distance_per_step) / si(in.height));
        addStep(out.steps, "δ", "lean that one step makes", "{s}/{h}", {{"s", *in.distance_per_step}, {"h", in.height}}, *r.lean_per_step,
                "definition");
    }
    return out;
}

FormPtr balanceLoopForm() {
    using I = BalanceLoop;
    using R = BalanceLoopResult;
    auto form =
        std::make_shared<FormOf<I, R>>("balance-loop", "tune", "how fast a balancing body falls", "inverted-pendulum", &balanceLoop);
    form->rule("fall_time_constant = √(h/g); longest_period = a twentieth; lean_per_step = distance_per_step/h")
        .in("height", &I::height, nullptr, "axle to centre of mass")
        .in("wheel_diameter", &I::wheel_diameter, nullptr, "over the tyre")
        .otherwise("unknown")
        .in("distance_per_step", &I::distance_per_step, nullptr, "of the wheel")
        .otherwise("unknown")
        .out("fall_time_constant", &R::fall_time_constant, "wheels held in speed")
        .out("longest_period", &R::longest_period, "of the loop")
        .out("lean_per_step", &R::lean_per_step, "of one step", "rad");
    return form;
}

Result<Worked<LoopPeriodResult>> loopPeriod(const LoopPeriod& in) {
    if (!in.time_constant && !in.crossover)
        return fail(ErrorCode::Missing, "time_constant / crossover", "", "give exactly one of time_constant / crossover");
    Worked<LoopPeriodResult> out;
    out.result.longest_period = of<Duration>(in.time_constant ? 0.15 * si(*in.time_constant) : 0.15 / si(*in.crossover));
    if (in.time_constant)
        addStep(out.steps, "h", "longest period", "0.15·{T}", {{"T", *in.time_constant}}, out.result.longest_period, "astrom-wittenmark");
    else addStep(out.steps, "h", "longest period", "0.15/{ωc}", {{"ωc", *in.crossover}}, out.result.longest_period, "astrom-wittenmark");
    return out;
}

FormPtr loopPeriodForm() {
    using I = LoopPeriod;
    auto form = std::make_shared<FormOf<I, LoopPeriodResult>>("loop-period", "tune", "the longest sampling period of a loop",
                                                              "astrom-wittenmark", &loopPeriod);
    form->rule("longest_period = 0.15·T, or 0.15/ωc")
        .in("time_constant", &I::time_constant, nullptr, "of the closed loop")
        .in("crossover", &I::crossover, nullptr, "of the open loop")
        .oneOf({{"time_constant"}, {"crossover"}})
        .out("longest_period", &LoopPeriodResult::longest_period, "of the loop");
    return form;
}

}  // namespace hinge::control
