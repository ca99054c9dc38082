#include "report/pictures.hpp"
#include <fmt/format.h>
#include <algorithm>
#include "plan/cells.hpp"
#include "quantity/text.hpp"
#include "report/packet.hpp"

namespace hinge::report {
namespace {

std::string cut(const std::string& text, std::size_t most) {
    // Whole characters only: the tail of one that does not fit goes too.
    if (text.size() <= most) return text;
    std::size_t end = most;
    while (end > 0 && (static_cast<unsigned char>(text[end]) & 0xC0) == 0x80) --end;
    return text.substr(0, end) + "…";
}

constexpr const char* ink = "#20262b";
constexpr const char* soft = "#5c646b";
constexpr const char* spark = "#b9551a";
constexpr const char* hinge_colour = "#0d6e6a";

std::string write(double x, double y, int size, const char* colour, const std::string& words, bool bold = false) {
    return fmt::format("<text x=\"{}\" y=\"{}\" font-size=\"{}\" fill=\"{}\"{}>{}</text>\n", x, y, size, colour,
                       bold ? " font-weight=\"bold\"" : "", escaped(words));
}

std::string box(double x, double y, double w, double h, const char* colour, const char* fill) {
    return fmt::format("<rect x=\"{}\" y=\"{}\" width=\"{}\" height=\"{}\" rx=\"3\" fill=\"{}\" stroke=\"{}\"/>\n", x, y, w, h, fill,
                       colour);
}

std::string line(double x1, double y, double x2, const char* colour, const std::string& words) {
    return fmt::format("<line x1=\"{}\" y1=\"{}\" x2=\"{}\" y2=\"{}\" stroke=\"{}\" stroke-width=\"1.5\"/>\n", x1, y, x2, y, colour) +
           write(x1 + 5, y - 4, 9, colour, words);
}

}  // namespace

std::string crossbarSvg(const plan::Plan& plan) {
    const int name = 130, cell = 96, high = 44;
    const int width = name + cell * project::stageCount, height = 28 + high * static_cast<int>(plan.channels.size());
    std::string svg = fmt::format(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {} {}\" role=\"img\" aria-label=\"crossbar\" style=\"font-family: "
        "sans-serif\">\n",
        width, height);
    for (int s = 0; s < project::stageCount; ++s)
        svg += write(name + cell * s + 6, 18, 12, ink, labelOf(static_cast<project::Stage>(s)), true);
    for (std::size_t i = 0; i < plan.channels.size(); ++i) {
        const int y = 28 + high * static_cast<int>(i);
        svg += write(4, y + 25, 12, ink, cut(plan.channels[i].name, 18), true);
        for (int s = 0; s < project::stageCount; ++s) {
            const auto& c = plan.channels[i].cells[static_cast<std::size_t>(s)];
            const int x = name + cell * s;
            const bool unknown = c.verdict == Verdict::Unknown && !c.to_do;
            svg += fmt::format("<rect x=\"{}\" y=\"{}\" width=\"{}\" height=\"{}\" fill=\"none\" stroke=\"#20262b\" {}/>\n", x + 2, y + 2,
                               cell - 4, high - 4, unknown ? "stroke-dasharray=\"3 3\"" : "");
            svg += write(x + 6, y + 18, 10, ink, cut(c.figure, 15)) + write(x + 6, y + 34, 9, soft, plan::wordOf(c));
            if (c.verdict == Verdict::Breaks)
                svg += fmt::format("<rect x=\"{}\" y=\"{}\" width=\"9\" height=\"9\" fill=\"#b3201f\"/>\n", x + cell - 13, y + 4);
            if (c.verdict == Verdict::Tight)
                svg += fmt::format("<path d=\"M{} {}l9 0l0 9z\" fill=\"none\" stroke=\"#7f6000\"/>\n", x + cell - 13, y + 4);
        }
    }
    return svg + "</svg>\n";
}

std::string wiringSvg(const project::Project& project, const plan::Plan& plan) {
    const int left = 150, gap = 150, wide = 220, high = 74;
    const int rows = static_cast<int>(project.channels.size());
    const int inputs = static_cast<int>(
        std::count_if(project.inputs.begin(), project.inputs.end(), [](const project::Input& each) { return project::hasPin(each.kind); }));
    const int height = 40 + rows * high + 20 + inputs * 22, driver_x = left + gap, mover_x = driver_x + wide + gap;
    std::string svg = fmt::format(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {} {}\" role=\"img\" aria-label=\"wiring\" style=\"font-family: "
        "sans-serif\">\n",
        mover_x + wide + 10, height);
    // "ATmega328P board, 16 MHz, 5 V": its name, and the rest below it.
    const std::string form{labelOf(project.board.form)};
    const auto comma = form.find(", ");
    const std::string title = form.substr(0, comma), rest = comma == std::string::npos ? std::string{} : form.substr(comma + 2);
    svg +=
        box(10, 26, left - 20, height - 36, ink, "#f6f3ec") + write(20, 44, 11, ink, cut(title, 17), true) + write(20, 60, 9, soft, rest);
    if (const auto* rail = project::findRail(project, project.board.rail)) svg += write(20, 76, 9, spark, "fed by " + rail->name);
    svg += write(driver_x, 18, 11, soft, "driver") + write(mover_x, 18, 11, soft, "what moves or switches");
    int y = 26;
    for (const auto& channel : project.channels) {
        const auto* planned = plan::findChannel(plan, channel.id);
        const auto* rail = project::findRail(project, channel.rail);
        const bool straight = planned != nullptr && planned->chosen &&
                              (kinds::isServoPulse(planned->signal) || planned->signal == plan::SignalKind::FanPwm) &&
                              channel.direction_pin.empty();
        std::vector<std::pair<std::string, const char*>> pins;
        if (!channel.pin.empty())
            pins.emplace_back(channel.pin + (planned != nullptr && kinds::isSteps(planned->signal) ? " step" : ""), hinge_colour);
        if (!channel.direction_pin.empty())
            pins.emplace_back(channel.direction_pin + (planned != nullptr && planned->two_inputs ? " second input" : " direction"),
                              hinge_colour);
        if (!channel.enable_pin.empty()) pins.emplace_back(channel.enable_pin + " enable", hinge_colour);
        const double to = straight ? mover_x : driver_x;
        for (std::size_t i = 0; i < pins.size(); ++i)
            svg += line(left - 10, y + 18 + 17.0 * static_cast<double>(i), to, pins[i].second, pins[i].first);
        if (!straight) {
            svg += box(driver_x, y, wide, high - 14, ink, "#fffdf8") +
                   write(driver_x + 8, y + 17, 10, ink,
                         cut(planned != nullptr && planned->chosen ? planned->chosen->driver_name : "no driver yet", 36), true);
            svg += write(driver_x + 8, y + 33, 9, spark, rail != nullptr ? "on " + rail->name : "no rail yet");
            svg += line(
                driver_x + wide, y + 26, mover_x, spark,
                planned != nullptr && planned->chosen && planned->chosen->running ? display(*planned->chosen->running) + " running" : "");
        }
        svg += box(mover_x, y, wide, high - 14, hinge_colour, "#fffdf8") + write(mover_x + 8, y + 17, 10, ink, cut(channel.name, 30), true);
        svg += write(mover_x + 8, y + 33, 9, soft,
                     cut(planned != nullptr && planned->chosen ? planned->chosen->actuator_name : "no part yet", 44));
        if (straight) svg += write(mover_x + 8, y + 48, 9, spark, rail != nullptr ? "on " + rail->name : "no rail yet");
        for (const auto& input : project.inputs)
            if (input.belongs_to == channel.id && project::hasPin(input.kind))
                svg += write(mover_x + 110, y + 48, 9, hinge_colour,
                             (input.kind == project::InputKind::Tach ? "tach to " : "current to ") + input.pin);
        y += high;
    }
    y += 20;
    for (const auto& input : project.inputs) {
        if (!project::hasPin(input.kind)) continue;
        svg += line(left - 10, y, driver_x, soft, input.pin) +
               write(driver_x + 6, y + 4, 10, ink, fmt::format("{}, {}", input.name, labelOf(input.kind)));
        y += 22;
    }
    return svg + "</svg>\n";
}

}  // namespace hinge::report
