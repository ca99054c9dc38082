#include "power/wire.hpp"
#include <fmt/format.h>
#include <cmath>
#include "quantity/constants.hpp"

namespace hinge::power {
std::span<const double> wireSizes() {
    static constexpr double list[] = {0.14e-6, 0.25e-6, 0.34e-6, 0.5e-6, 0.75e-6, 1.0e-6, 1.5e-6, 2.5e-6, 4e-6, 6e-6, 10e-6, 16e-6};
    return list;
}

std::optional<Current> ampacity(Area copper) {
    struct Row {
        double mm2, amps;
    };
    static constexpr Row table[] = {{0.75, 8.6}, {1.0, 10.3}, {1.5, 13.5},  {2.5, 18.3},
                                    {4.0, 24.0}, {6.0, 31.0}, {10.0, 44.0}, {16.0, 59.0}};
    const double mm2 = si(copper) * 1e6 * (1 + 1e-9);
    if (mm2 < table[0].mm2) return of<Current>(table[0].amps * std::pow(mm2 / table[0].mm2, 0.625));
    if (mm2 > table[std::size(table) - 1].mm2 * (1 + 1e-6)) return std::nullopt;
    double amps = table[0].amps;
    for (const auto& row : table)
        if (row.mm2 <= mm2) amps = row.amps;
    return of<Current>(amps);
}

namespace {
double resistivityAt(Temperature temperature) {
    return constants::copper_resistivity * (1.0 + constants::copper_coefficient * (si(temperature) - constants::room_kelvin));
}
}  // namespace

Resistance wireResistance(Area area, Length one_way, Temperature temperature) {
    return of<Resistance>(resistivityAt(temperature) * 2.0 * si(one_way) / si(area));
}

Result<Worked<WireDropResult>> wireDrop(const WireDrop& in) {
    Worked<WireDropResult> out;
    auto& r = out.result;
    if (in.awg) {
        const double gauge = si(*in.awg);
        const double diameter = 0.127e-3 * std::pow(92.0, (36.0 - gauge) / 39.0);
        r.diameter = of<Length>(diameter);
        r.area = of<Area>(constants::pi * diameter * diameter / 4.0);
        addStep(out.steps, "d", "diameter of the gauge", "0.127 mm·92^((36 − {n})/39)", {{"n", gauge}}, r.diameter, "astm-b258");
    } else if (in.area) {
        r.area = *in.area;
        r.diameter = of<Length>(2.0 * std::sqrt(si(*in.area) / constants::pi));
        addStep(out.steps, "d", "diameter if it were solid", "2·√({A}/π)", {{"A", *in.area}}, r.diameter, "circle");
    } else {
        return fail(ErrorCode::Missing, "awg / area", "", "give exactly one of awg / area");
    }
    const double resistivity = resistivityAt(in.temperature);
    r.resistance = wireResistance(r.area, in.length, in.temperature);
    r.drop = of<Voltage>(si(in.current) * si(r.resistance));
    r.loss = of<Power>(si(in.current) * si(r.drop));
    addStep(out.steps, "R", "resistance there and back", "{ρ}·2·{l}/{A}", {{"ρ", resistivity}, {"l", in.length}, {"A", r.area}},
            r.resistance, "iec-60028");
    addStep(out.steps, "U", "volts lost", "{I}·{R}", {{"I", in.current}, {"R", r.resistance}}, r.drop, "ohm");
    addStep(out.steps, "P", "heat in the wire", "{I}·{U}", {{"I", in.current}, {"U", r.drop}}, r.loss, "ohm");
    if (in.supply) {
        const double share = si(r.drop) / si(*in.supply);
        const auto severity = share > 0.05 * (1 + 1e-12) ? Severity::Stop : Severity::Warn;
        if (share > 0.03 * (1 + 1e-12))
            out.findings.push_back({"wire-drop", severity,
                                    fmt::format("The wire loses {} of {}: {}. Up to 3 % is good, beyond 5 % is too much.", display(r.drop),
                                                display(*in.supply), display(Kind::Fraction, share))});
    }
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr wireDropForm() {
    using I = WireDrop;
    using R = WireDropResult;
    auto form =
        std::make_shared<FormOf<I, R>>("wire-drop", "feed", "volts lost in a pair of copper wires", "astm-b258; iec-60028", &wireDrop);
    form->rule("d = 0.127 mm·92^((36 − n)/39); R = ρ·2·l/A; to 3 % of the supply holds, to 5 % tight")
        .in("awg", &I::awg, nullptr, "gauge; 00, 000 and 0000 too")
        .between(-3, 56)
        .spelt({{"00", "-1"}, {"000", "-2"}, {"0000", "-3"}})
        .in("area", &I::area, nullptr, "cross-section of the copper")
        .in("length", &I::length, nullptr, "one way")
        .in("current", &I::current, nullptr, "through the wire")
        .in("temperature", &I::temperature, "20degC", "of the wire")
        .in("supply", &I::supply, nullptr, "to judge the drop against")
        .oneOf({{"awg"}, {"area"}})
        .out("diameter", &R::diameter, "of solid round wire")
        .out("area", &R::area, "cross-section")
        .out("resistance", &R::resistance, "there and back")
        .out("drop", &R::drop, "volts lost")
        .out("loss", &R::loss, "heat in the wire");
    return form;
}

}  // namespace hinge::power
