#include "report/find.hpp"
#include <fmt/format.h>
#include <algorithm>
#include "plan/wiring.hpp"
#include "project/facts.hpp"

namespace hinge::report {
namespace {

// Lower case of A to Z and of À to Þ in UTF-8; any other letter stays as it is.
std::string folded(std::string_view text) {
    std::string out;
    out.reserve(text.size());
    for (std::size_t i = 0; i < text.size(); ++i) {
        auto u = static_cast<unsigned char>(text[i]);
        if (u >= 'A' && u <= 'Z') u = static_cast<unsigned char>(u + 32);
        const bool after = i > 0 && static_cast<unsigned char>(text[i - 1]) == 0xC3;
        if (after && u >= 0x80 && u <= 0x9E && u != 0x97) u = static_cast<unsigned char>(u + 32);
        out += static_cast<char>(u);
    }
    return out;
}

std::vector<std::string> wordsOf(std::string_view text) {
    std::vector<std::string> words(1);
    for (const char c : folded(text))
        if (c == ' ' || c == '\t' || c == '\n') words.emplace_back();
        else words.back() += c;
    std::erase(words, std::string{});
    return words;
}

// Gathers what has all the words, the nearest first.
class Finder {
public:
    Finder(std::vector<std::string> words, std::size_t most) : words_(std::move(words)), most_(most) {}
    void look(Hit hit) {
        const auto name = folded(hit.name), all = name + ' ' + folded(hit.detail);
        for (const auto& word : words_)
            if (all.find(word) == std::string::npos) return;
        const auto at = name.find(words_.front());
        const int rank = at == 0 ? 0 : at != std::string::npos ? (name[at - 1] == ' ' ? 1 : 2) : 3;
        found_.push_back({rank, std::move(hit)});
    }
    /// What was looked at since the last call.
    void closeSort(std::vector<Hit>& into) {
        std::stable_sort(found_.begin(), found_.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
        if (found_.size() > most_) found_.resize(most_);
        for (auto& [rank, hit] : found_) into.push_back(std::move(hit));
        found_.clear();
    }

private:
    std::vector<std::string> words_;
    std::size_t most_;
    std::vector<std::pair<int, Hit>> found_;
};

std::string channelOf(const std::string& path) {
    return path.starts_with("channels/") ? path.substr(9, path.find('/', 9) - 9) : std::string{};
}

}  // namespace

bool hasWords(std::string_view text, std::string_view wanted) {
    const auto all = folded(text);
    const auto words = wordsOf(wanted);
    return !words.empty() && std::all_of(words.begin(), words.end(), [&](const auto& word) { return all.find(word) != std::string::npos; });
}

std::vector<Hit> find(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, std::string_view text,
                      std::size_t most) {
    std::vector<Hit> hits;
    auto words = wordsOf(text);
    if (words.empty()) return hits;
    Finder finder(std::move(words), most);
    using project::Stage;
    for (const auto& channel : project.channels) {
        const auto* part = project::findActuator(parts, channel.actuator);
        finder.look(
            {Found::Channel, channel.name, part != nullptr ? actuator::head(*part).name : std::string{}, Stage::Need, channel.id, {}});
    }
    finder.closeSort(hits);
    for (const auto& fact : project::facts(project)) {
        if (fact.label.empty()) continue;
        const auto id = channelOf(fact.path);
        const auto* channel = project::findChannel(project, id);
        finder.look({Found::Fact, fact.label, (channel != nullptr ? channel->name + ": " : "") + fact.text, fact.stage, id, fact.path});
    }
    finder.closeSort(hits);
    for (const auto& finding : plan.findings) finder.look({Found::Finding, finding.text, finding.id, finding.stage, finding.channel, {}});
    finder.closeSort(hits);
    for (const auto& row : plan::wireRows(project, plan::wiring(project, parts, plan)))
        finder.look({Found::Wire, row.label + "  " + row.wire.from + " → " + row.wire.to, row.colour, Stage::Pins, {}, row.label});
    finder.closeSort(hits);
    for (const auto& part : parts.actuators)
        finder.look({Found::Part, actuator::head(part).name, {}, Stage::Match, {}, actuator::head(part).id});
    for (const auto& driver : parts.drivers) finder.look({Found::Part, driver.name, {}, Stage::Match, {}, driver.id});
    finder.closeSort(hits);
    for (const auto& entry : project.journal.entries)
        finder.look({Found::Journal, entry.text.empty() ? entry.lesson : entry.text, entry.date, Stage::Log, entry.channel, {}});
    finder.closeSort(hits);
    return hits;
}

}  // namespace hinge::report
