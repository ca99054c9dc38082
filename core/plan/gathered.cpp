#include "plan/gathered.hpp"
#include <algorithm>

namespace hinge::plan {

std::vector<Gathered> gathered(const std::vector<const PlanFinding*>& findings) {
    std::vector<Gathered> list;
    for (const auto* finding : findings) {
        const auto alike = std::find_if(list.begin(), list.end(), [&](const Gathered& each) {
            const auto& first = each.first();
            // Of one channel each is told by itself: they differ by more than whose they are.
            return !finding->channel.empty() && first.id == finding->id && first.severity == finding->severity &&
                   first.stage == finding->stage && !first.channel.empty() &&
                   std::none_of(each.all.begin(), each.all.end(), [&](const auto* one) { return one->channel == finding->channel; });
        });
        if (alike != list.end()) alike->all.push_back(finding);
        else list.push_back({{finding}});
    }
    std::stable_sort(list.begin(), list.end(), [](const Gathered& a, const Gathered& b) {
        return static_cast<int>(a.first().severity) < static_cast<int>(b.first().severity);
    });
    return list;
}

namespace {

// "A", "A and B", "A, B and C".
std::string listed(const std::vector<const PlanFinding*>& findings, std::size_t from, const Plan& plan) {
    std::string names;
    for (std::size_t i = from; i < findings.size(); ++i) {
        const auto* channel = findChannel(plan, findings[i]->channel);
        names += i == from ? "" : i + 1 == findings.size() ? " and " : ", ";
        names += channel != nullptr ? channel->name : findings[i]->channel;
    }
    return names;
}

}  // namespace

std::vector<SaidOnce> saidOnce(const std::vector<const PlanFinding*>& findings, const Plan& plan) {
    std::vector<SaidOnce> list;
    std::vector<std::string> rests;
    for (const auto* finding : findings) {
        const auto* channel = findChannel(plan, finding->channel);
        const bool named = channel != nullptr && !channel->name.empty() && finding->text.starts_with(channel->name + " ");
        std::string rest = finding->id + (named ? "+" + finding->text.substr(channel->name.size()) : "=" + finding->text);
        const auto same = std::find(rests.begin(), rests.end(), rest) - rests.begin();
        if (same < static_cast<std::ptrdiff_t>(rests.size())) {
            list[static_cast<std::size_t>(same)].all.push_back(finding);
            continue;
        }
        rests.push_back(std::move(rest));
        list.push_back({{finding}, "", finding->text});
    }
    for (std::size_t i = 0; i < list.size(); ++i) {
        auto& each = list[i];
        if (!each.all.front()->channel.empty()) each.names = listed(each.all, 0, plan);
        const auto mark = rests[i].find_first_of("+=");
        if (each.all.size() > 1 && rests[i][mark] == '+') each.text = "Each" + rests[i].substr(mark + 1);
    }
    return list;
}

std::string othersOf(const Gathered& gathered, const Plan& plan) {
    return listed(gathered.all, 1, plan);
}

}  // namespace hinge::plan
