#include "timing/uart_baud.hpp"
#include <fmt/format.h>
#include <algorithm>

namespace hinge::timing {

Result<Worked<UartBaudResult>> uartBaud(const UartBaud& in) {
    const double clock = si(in.clock), wanted = si(in.baud);
    Worked<UartBaudResult> out;
    auto& r = out.result;
    bool found = false;
    for (const bool twice : {false, true}) {
        if ((twice && in.double_speed == DoubleSpeed::Off) || (!twice && in.double_speed == DoubleSpeed::On)) continue;
        const double base = clock / (twice ? 8.0 : 16.0);
        for (const double raw : {std::floor(base / wanted - 1.0), std::ceil(base / wanted - 1.0)}) {
            const double divisor = std::clamp(raw, 0.0, 4095.0), actual = base / (divisor + 1.0), error = actual / wanted - 1.0;
            if (found && std::abs(error) >= std::abs(si(r.error)) * (1 - 1e-12) - 1e-15) continue;
            found = true;
            r.divisor = of<Count>(divisor);
            r.double_speed = twice;
            r.actual_baud = of<Frequency>(actual);
            r.error = of<Fraction>(error);
        }
    }
    addStep(out.steps, "B", "real rate", r.double_speed ? "{clk}/(8·({U} + 1))" : "{clk}/(16·({U} + 1))",
            {{"clk", clock}, {"U", r.divisor}}, r.actual_baud, "atmega328p-datasheet");
    addStep(out.steps, "e", "off by", "{B}/{Bw} − 1", {{"B", r.actual_baud}, {"Bw", wanted}}, r.error, "definition");
    const double off = std::abs(si(r.error));
    if (off > 0.02 * (1 + 1e-9))
        out.findings.push_back(
            {"baud-off", Severity::Stop, fmt::format("The rate is {} off: characters will be lost.", display(Kind::Fraction, off, 2))});
    else if (off > 0.01 * (1 + 1e-9))
        out.findings.push_back(
            {"baud-off", Severity::Warn,
             fmt::format("The rate is {} off: with a partner off the other way it fails.", display(Kind::Fraction, off, 2))});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr uartBaudForm() {
    using I = UartBaud;
    using R = UartBaudResult;
    auto form = std::make_shared<FormOf<I, R>>("uart-baud", "pulse", "the divisor of a serial port and its error", "atmega328p-datasheet",
                                               &uartBaud);
    form->rule("baud = clk/(16·(UBRR + 1)), or clk/8 at double speed; smallest error, a tie goes to normal; to 1 % holds, to 2 % tight")
        .in("clock", &I::clock, nullptr, "of the chip")
        .in("baud", &I::baud, nullptr, "wanted")
        .in("double_speed", &I::double_speed, "best", "of the port")
        .out("divisor", &R::divisor, "UBRR")
        .out("double_speed", &R::double_speed, "chosen")
        .out("actual_baud", &R::actual_baud, "that comes out")
        .out("error", &R::error, "actual/wanted − 1");
    return form;
}

}  // namespace hinge::timing
