#include "journal/trial.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <charconv>
#include "quantity/text.hpp"

namespace hinge::journal {
namespace {

constexpr std::string_view columns = "time,wanted,reading,drive,value";

struct Field {
    std::string_view key;
    std::string Trial::*member;
};
constexpr std::array fields{Field{"trial", &Trial::id},  Field{"date", &Trial::date},      Field{"channel", &Trial::channel},
                            Field{"loop", &Trial::loop}, Field{"kind", &Trial::kind},      Field{"on", &Trial::on},
                            Field{"plan", &Trial::plan}, Field{"comment", &Trial::comment}};

std::string oneLine(std::string text) {
    for (char& c : text)
        if (static_cast<unsigned char>(c) < 32) c = ' ';
    return text;
}

}  // namespace

std::string trialHead(const Trial& trial) {
    std::string text;
    for (const auto& field : fields) text += fmt::format("# {}: {}\n", field.key, oneLine(trial.*field.member));
    for (const auto& setting : trial.settings)
        text += fmt::format("# set {} {} {}\n", oneLine(setting.name), setting.value, oneLine(setting.unit));
    return text + std::string{columns} + "\n";
}

std::string trialLine(const TrialRow& row) {
    return fmt::format("{},{},{},{},{}\n", exactNumber(row.time), exactNumber(row.wanted), exactNumber(row.reading), exactNumber(row.drive),
                       exactNumber(row.value));
}

Result<Trial> parseTrial(std::string_view text) {
    Trial trial;
    bool headed = false;
    int number = 0;
    while (!text.empty()) {
        const auto end = text.find('\n');
        if (end == std::string_view::npos) break;  // cut short
        auto line = text.substr(0, end);
        text.remove_prefix(end + 1);
        ++number;
        if (!line.empty() && line.back() == '\r') line.remove_suffix(1);
        if (line.empty()) continue;
        const auto bad = [&](const char* accepted) {
            return fail(ErrorCode::BadFormat, fmt::format("line {}", number), std::string{line.substr(0, 60)}, accepted);
        };
        if (line.front() == '#') {
            line.remove_prefix(std::min<std::size_t>(2, line.size()));
            if (line.substr(0, 4) == "set ") {
                const auto rest = line.substr(4), first = rest.substr(0, rest.find(' '));
                TrialSetting setting{std::string{first}, 0, ""};
                const auto after = rest.substr(std::min(rest.size(), first.size() + 1));
                const auto read = std::from_chars(after.data(), after.data() + after.size(), setting.value);
                if (read.ec != std::errc{}) return bad("# set NAME WHOLE-NUMBER UNIT");
                const auto unit = after.substr(static_cast<std::size_t>(read.ptr - after.data()));
                setting.unit = unit.empty() ? "" : std::string{unit.substr(1)};
                trial.settings.push_back(std::move(setting));
                continue;
            }
            for (const auto& field : fields)
                if (line.substr(0, field.key.size()) == field.key && line.substr(field.key.size(), 2) == ": ")
                    trial.*field.member = line.substr(field.key.size() + 2);
            continue;
        }
        if (!headed) {
            if (line != columns) return bad("the columns time,wanted,reading,drive,value");
            headed = true;
            continue;
        }
        TrialRow row;
        const std::array targets{&row.time, &row.wanted, &row.reading, &row.drive, &row.value};
        for (std::size_t k = 0; k < targets.size(); ++k) {
            const auto comma = line.find(',');
            if ((comma == std::string_view::npos) != (k + 1 == targets.size())) return bad("five numbers");
            const auto value = parseNumber(line.substr(0, comma));
            if (!value) return bad("five numbers");
            *targets[k] = *value;
            line.remove_prefix(comma == std::string_view::npos ? line.size() : comma + 1);
        }
        trial.rows.push_back(row);
    }
    if (!headed) return fail(ErrorCode::BadFormat, "file", "", "a trial: its head, and the columns time,wanted,reading,drive,value");
    return trial;
}

std::vector<std::string> settingsChanged(const Trial& from, const Trial& to) {
    std::vector<std::string> list;
    for (const auto& now : to.settings) {
        const auto before =
            std::find_if(from.settings.begin(), from.settings.end(), [&](const TrialSetting& each) { return each.name == now.name; });
        if (before == from.settings.end()) list.push_back(fmt::format("{} new: {}", now.name, now.value));
        else if (before->value != now.value) list.push_back(fmt::format("{} {} → {}", now.name, before->value, now.value));
    }
    return list;
}

}  // namespace hinge::journal
