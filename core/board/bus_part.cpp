#include "board/bus_part.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <charconv>
#include "board/bus_table.hpp"
#include "quantity/csv.hpp"

namespace hinge::board {

int BusPart::registerOf(std::string_view field) const {
    const auto found = std::find_if(fields.begin(), fields.end(), [&](const Field& each) { return each.name == field; });
    return found != fields.end() ? found->reg : -1;
}

Result<std::vector<BusPart>> parseBusParts(std::string_view csv) {
    std::vector<BusPart> parts;
    int number = 0;
    while (!csv.empty()) {
        const auto end = std::min(csv.find('\n'), csv.size());
        std::string_view line = csv.substr(0, end);
        csv.remove_prefix(std::min(end + 1, csv.size()));
        if (!line.empty() && line.back() == '\r') line.remove_suffix(1);
        if (++number == 1 || line.empty()) continue;
        const auto cells = csvFields(line);
        const auto bad = [&](const char* why) {
            return fail(ErrorCode::BadFormat, fmt::format("bus.csv, line {}", number), std::string{line.substr(0, 60)}, why);
        };
        if (cells.size() != 7) return bad("part,name,kind,address,register,field,coding");
        int address = 0, reg = 0;
        const std::string& hex = cells[3];
        if (hex.size() < 3 || !hex.starts_with("0x") ||
            std::from_chars(hex.data() + 2, hex.data() + hex.size(), address, 16).ptr != hex.data() + hex.size() || address < 8 ||
            address > 0x77)
            return bad("an address from 0x08 to 0x77");
        if (std::from_chars(cells[4].data(), cells[4].data() + cells[4].size(), reg).ptr != cells[4].data() + cells[4].size() || reg < 0 ||
            reg > 255)
            return bad("a register from 0 to 255");
        if (parts.empty() || parts.back().id != cells[0]) parts.push_back({cells[0], cells[1], cells[2], address, {}});
        parts.back().fields.push_back({reg, cells[5], cells[6]});
    }
    return parts;
}

const std::vector<BusPart>& busParts() {
    static const std::vector<BusPart> list = parseBusParts(bus_table).value_or(std::vector<BusPart>{});
    return list;
}

const BusPart* findBusPart(std::string_view id) {
    const auto found = std::find_if(busParts().begin(), busParts().end(), [&](const BusPart& part) { return part.id == id; });
    return found != busParts().end() ? &*found : nullptr;
}

}  // namespace hinge::board
