#include "drawing/svg.hpp"
#include <fmt/format.h>

namespace hinge::drawing {
namespace {

constexpr const char* ink = "#20262b";

std::string escaped(const std::string& text) {
    std::string out;
    for (const char c : text) {
        if (c == '&') out += "&amp;";
        else if (c == '<') out += "&lt;";
        else if (c == '>') out += "&gt;";
        else out += c;
    }
    return out;
}

std::string path(const Line& line) {
    std::string d;
    for (std::size_t k = 0; k < line.points.size(); ++k)
        d += fmt::format("{}{:.1f} {:.1f}", k == 0 ? "M" : "L", line.points[k].x, line.points[k].y);
    return line.closed ? d + "Z" : d;
}

// A wire is an inked line with its sleeve's colour in it; one whose colour is not ours to say is plain.
std::string wire(const Line& line, const std::vector<plan::WireRow>& rows) {
    const auto colour = plan::sleeveColour(rows.at(static_cast<std::size_t>(line.wire)).colour);
    const auto d = path(line);
    auto svg = fmt::format("<path d=\"{}\" fill=\"none\" stroke=\"{}\" stroke-width=\"{}\"/>\n", d, ink, colour ? 3.4 : 1.6);
    if (colour) svg += fmt::format("<path d=\"{}\" fill=\"none\" stroke=\"#{:06x}\" stroke-width=\"2\"/>\n", d, *colour);
    return svg;
}

std::string styled(Stroke stroke) {
    switch (stroke) {
        case Stroke::Box: return "fill=\"#fffdf8\" stroke=\"#20262b\" stroke-width=\"1.2\"";
        case Stroke::Flag: return "fill=\"#f6f3ec\" stroke=\"#5c646b\" stroke-width=\"1\"";
        case Stroke::Filled: return "fill=\"#20262b\" stroke=\"#20262b\" stroke-width=\"1\"";
        case Stroke::Bundle: return "fill=\"none\" stroke=\"#5c646b\" stroke-width=\"4\"";
        default: return "fill=\"none\" stroke=\"#20262b\" stroke-width=\"1.3\"";
    }
}

}  // namespace

std::string svgOf(const Drawing& drawing, const std::vector<plan::WireRow>& rows) {
    auto svg = fmt::format(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"-4 -4 {:.0f} {:.0f}\" width=\"{:.0f}\" height=\"{:.0f}\" role=\"img\" "
        "aria-label=\"{}\" style=\"font-family: sans-serif; max-width: 100%\">\n",
        drawing.width + 8.0, drawing.height + 8.0, drawing.width + 8.0, drawing.height + 8.0, escaped("wiring: " + drawing.title));
    for (const auto& line : drawing.lines)
        svg += line.stroke == Stroke::Wire ? wire(line, rows) : fmt::format("<path d=\"{}\" {}/>\n", path(line), styled(line.stroke));
    for (const auto& disc : drawing.discs)
        svg +=
            fmt::format("<circle cx=\"{:.1f}\" cy=\"{:.1f}\" r=\"{:.1f}\" {}/>\n", disc.at.x, disc.at.y, disc.radius, styled(disc.stroke));
    for (const auto& words : drawing.words)
        svg += fmt::format("<text x=\"{:.1f}\" y=\"{:.1f}\" font-size=\"{:.1f}\" fill=\"{}\" text-anchor=\"{}\"{}>{}</text>\n", words.at.x,
                           words.at.y, words.size, words.tone == Tone::Soft ? "#5c646b" : ink,
                           words.toward == Toward::Right  ? "start"
                           : words.toward == Toward::Left ? "end"
                                                          : "middle",
                           words.tone == Tone::Name ? " font-weight=\"bold\"" : "", escaped(words.text));
    return svg + "</svg>\n";
}

}  // namespace hinge::drawing
