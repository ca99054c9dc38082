#include "quantity/csv.hpp"
#include <csv.h>
#include <cstdlib>

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
bool parsed(std::string_view text, unsigned char options, Sink& sink, char between = ',') {
    csv_parser parser{};
    if (csv_init(&parser, options) != 0) return false;
    csv_set_delim(&parser, static_cast<unsigned char>(between));
    const std::size_t read = csv_parse(&parser, text.data(), text.size(), onField, onRow, &sink);
    const bool whole = read == text.size() && csv_fini(&parser, onField, onRow, &sink) == 0;
    csv_free(&parser);
    return whole;
}

}  // namespace

char csvBetween(std::string_view text) {
    const auto first = text.substr(0, text.find_first_of("\r\n"));
    return first.find(',') == std::string_view::npos && first.find(';') != std::string_view::npos ? ';' : ',';
}

void dropByteOrderMark(std::string_view& text) {
    if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
}

Result<std::vector<CsvRow>> csvRows(std::string_view text, const std::string& file) {
    Sink sink;
    dropByteOrderMark(text);
    if (!parsed(text, CSV_STRICT, sink, csvBetween(text)))
        return fail(ErrorCode::BadFormat, file, "row " + std::to_string(sink.rows.size() + 1),
                    "CSV: a quotation mark stands where none may, or one is missing");
    return std::move(sink.rows);
}

CsvRow csvFields(std::string_view line, char between) {
    Sink sink;
    parsed(line, 0, sink, between);
    return sink.rows.empty() ? CsvRow{""} : std::move(sink.rows.front());
}

std::string csvCell(const std::string& text) {
    if (text.find_first_of(",\"\n\r") == std::string::npos) return text;
    std::string out = "\"";
    for (const char c : text) out += c == '"' ? std::string{"\"\""} : std::string(1, c);
    return out + "\"";
}

namespace {

bool isFormula(std::string_view text) {
    if (text.empty() || std::string_view{"=+-@\t\r"}.find(text.front()) == std::string_view::npos) return false;
    // A sign before nothing but a number.
    char* end = nullptr;
    const std::string number{text};
    (void)std::strtod(number.c_str(), &end);
    return end != number.c_str() + number.size() || text.size() < 2;
}

}  // namespace

std::string csvText(const std::string& text) {
    return csvCell(isFormula(text) ? "'" + text : text);
}

std::string fromCsvText(std::string text) {
    if (text.size() > 1 && text.front() == '\'' && isFormula(std::string_view{text}.substr(1))) text.erase(0, 1);
    return text;
}

}  // namespace quantity
}  // namespace hinge
