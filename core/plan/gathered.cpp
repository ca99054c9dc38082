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

std::string othersOf(const Gathered& gathered, const Plan& plan) {
    std::string names;
    for (std::size_t i = 1; i < gathered.all.size(); ++i) {
        const auto* channel = findChannel(plan, gathered.all[i]->channel);
        names += i == 1 ? "" : i + 1 == gathered.all.size() ? " and " : ", ";
        names += channel != nullptr ? channel->name : gathered.all[i]->channel;
    }
    return names;
}

}  // namespace hinge::plan
