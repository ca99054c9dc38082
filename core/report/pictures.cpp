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

std::string write(double x, double y, int size, const char* colour, const std::string& words, bool bold = false) {
    return fmt::format("<text x=\"{}\" y=\"{}\" font-size=\"{}\" fill=\"{}\"{}>{}</text>\n", x, y, size, colour,
                       bold ? " font-weight=\"bold\"" : "", escaped(words));
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

}  // namespace hinge::report
