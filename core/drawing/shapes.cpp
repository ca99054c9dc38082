#include "drawing/shapes.hpp"
#include <algorithm>

namespace hinge::drawing {

double widthOf(const std::string& text, double size) {
    const auto characters = std::count_if(text.begin(), text.end(), [](char c) { return (static_cast<unsigned char>(c) & 0xC0) != 0x80; });
    return 0.62 * size * static_cast<double>(characters);
}

void moveBy(Drawing& drawing, Point by) {
    for (auto& line : drawing.lines)
        for (auto& point : line.points) point = point + by;
    for (auto& disc : drawing.discs) disc.at = disc.at + by;
    for (auto& words : drawing.words) words.at = words.at + by;
    for (auto& run : drawing.runs) run.a = run.a + by, run.b = run.b + by;
}

Sheet onSheet(std::vector<Drawing> drawings, double width) {
    constexpr double gap = 18.0;
    Sheet sheet;
    for (const auto& drawing : drawings) width = std::max(width, drawing.width);
    sheet.width = width;
    Point at;
    double row = 0.0;
    for (auto& drawing : drawings) {
        if (at.x > 0.0 && at.x + drawing.width > width) at = {0.0, at.y + row + gap}, row = 0.0;
        moveBy(drawing, at);
        sheet.at.push_back(at);
        at.x += drawing.width + gap;
        row = std::max(row, drawing.height);
        sheet.drawings.push_back(std::move(drawing));
    }
    sheet.height = at.y + row;
    return sheet;
}

std::vector<Drawing> inRows(std::vector<Drawing> drawings, double width) {
    const auto sheet = onSheet(std::move(drawings), width);
    std::vector<Drawing> rows;
    for (std::size_t k = 0; k < sheet.drawings.size();) {
        Sheet row{sheet.width, 0.0, {}, {}};
        std::string titles;
        const double top = sheet.at[k].y;
        for (; k < sheet.drawings.size() && sheet.at[k].y == top; ++k) {
            row.drawings.push_back(sheet.drawings[k]);
            moveBy(row.drawings.back(), {0.0, -top});
            row.height = std::max(row.height, sheet.drawings[k].height);
            titles += (titles.empty() ? "" : ", ") + sheet.drawings[k].title;
        }
        rows.push_back(asOne(row, titles));
    }
    return rows;
}

Drawing asOne(const Sheet& sheet, const std::string& title) {
    Drawing all;
    all.title = title;
    all.width = sheet.width;
    all.height = sheet.height;
    for (const auto& each : sheet.drawings) {
        all.lines.insert(all.lines.end(), each.lines.begin(), each.lines.end());
        all.discs.insert(all.discs.end(), each.discs.begin(), each.discs.end());
        all.words.insert(all.words.end(), each.words.begin(), each.words.end());
        all.runs.insert(all.runs.end(), each.runs.begin(), each.runs.end());
    }
    return all;
}

}  // namespace hinge::drawing
