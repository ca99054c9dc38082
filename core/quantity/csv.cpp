#include "quantity/csv.hpp"
#include <csv.h>

namespace hinge {
inline namespace quantity {
namespace {

struct Sink {
    std::vector<CsvRow> rows;
    CsvRow row;
};
void onField(void* data, std::size_t length, void* target) {
    // An empty field has no data.
    static_cast<Sink*>(target)->row.emplace_back(data != nullptr ? static_cast<const char*>(data) : "", length);
}
void onRow(int, void* target) {
    auto* sink = static_cast<Sink*>(target);
    sink->rows.push_back(std::move(sink->row));
    sink->row.clear();
}
// @return whether the text was whole; what was read of it stands in the sink
bool parsed(std::string_view text, unsigned char options, Sink& sink) {
    csv_parser parser{};
    if (csv_init(&parser, options) != 0) return false;
    const std::size_t read = csv_parse(&parser, text.data(), text.size(), onField, onRow, &sink);
    const bool whole = read == text.size() && csv_fini(&parser, onField, onRow, &sink) == 0;
    csv_free(&parser);
    return whole;
}

}  // namespace

Result<std::vector<CsvRow>> csvRows(std::string_view text, const std::string& file) {
    Sink sink;
    if (!parsed(text, CSV_STRICT, sink))
        return fail(ErrorCode::BadFormat, file, "row " + std::to_string(sink.rows.size() + 1),
                    "CSV: a quotation mark stands where none may, or one is missing");
    return std::move(sink.rows);
}

CsvRow csvFields(std::string_view line) {
    Sink sink;
    parsed(line, 0, sink);
    return sink.rows.empty() ? CsvRow{""} : std::move(sink.rows.front());
}

std::string csvCell(const std::string& text) {
    if (text.find_first_of(",\"\n\r") == std::string::npos) return text;
    std::string out = "\"";
    for (const char c : text) out += c == '"' ? std::string{"\"\""} : std::string(1, c);
    return out + "\"";
}

}  // namespace quantity
}  // namespace hinge
