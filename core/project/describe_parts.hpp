#pragma once
// What the files that describe a project share: every group's description, and how a member becomes a field of it.
#include "project/describe.hpp"

namespace hinge::project {

void describe(Visitor& v, Brief& whole);
void describe(Visitor& v, power::Source& whole);
void describe(Visitor& v, power::Rail& whole);
void describe(Visitor& v, Board& whole);
void describe(Visitor& v, PumpDemand& whole);
void describe(Visitor& v, TurnDemand& whole);
void describe(Visitor& v, MoveDemand& whole);
void describe(Visitor& v, PressDemand& whole);
void describe(Visitor& v, BlowDemand& whole);
void describe(Visitor& v, SwitchDemand& whole);
void describe(Visitor& v, HeatDemand& whole);
void describe(Visitor& v, Spread& whole);
void describe(Visitor& v, Work& whole);
void describe(Visitor& v, Weights& whole);
void describe(Visitor& v, Drive& whole);
void describe(Visitor& v, Signal& whole);
void describe(Visitor& v, Calibration& whole);
void describe(Visitor& v, Fit& whole);
void describe(Visitor& v, Channel& whole);
void describe(Visitor& v, Input& whole);
void describe(Visitor& v, routine::Guard& whole);
void describe(Visitor& v, routine::Move& whole);
void describe(Visitor& v, routine::Cue& whole);
void describe(Visitor& v, routine::Term& whole);
void describe(Visitor& v, routine::Interlock& whole);
void describe(Visitor& v, routine::Loop& whole);
void describe(Visitor& v, routine::Follower& whole);
void describe(Visitor& v, routine::Routine& whole);
void describe(Visitor& v, journal::Check& whole);
void describe(Visitor& v, journal::Entry& whole);
void describe(Visitor& v, journal::WireNote& whole);
void describe(Visitor& v, journal::WiringSnapshot& whole);
void describe(Visitor& v, journal::Sample& whole);
void describe(Visitor& v, journal::Stock& whole);
void describe(Visitor& v, journal::Care& whole);
void describe(Visitor& v, journal::Journal& whole);

namespace described {

template <class T>
struct ListOf {
    static constexpr bool is = false;
    using Entry = T;
};
template <class T>
struct ListOf<std::vector<T>> {
    static constexpr bool is = true;
    using Entry = T;
};

template <class T>
constexpr Branch branchOf() {
    using Entry = typename ListOf<T>::Entry;
    Branch branch;
    branch.list = ListOf<T>::is;
    branch.demand = std::is_same_v<T, Demand>;
    branch.walk = [](Visitor& visitor, void* group) { describe(visitor, *static_cast<Entry*>(group)); };
    branch.walk_fresh = [](Visitor& visitor) {
        Entry fresh{};
        describe(visitor, fresh);
    };
    if constexpr (ListOf<T>::is) {
        // A journal grows for years, three lines a day are 11 000 in ten; everything else a person places by hand.
        branch.most = std::is_same_v<Entry, journal::Entry> ? 200000 : 10000;
        branch.size = [](const void* list) { return static_cast<const T*>(list)->size(); };
        branch.entry = [](void* list, std::size_t index) -> void* { return &(*static_cast<T*>(list))[index]; };
        branch.add = [](void* list) -> void* { return &static_cast<T*>(list)->emplace_back(); };
        branch.clear = [](void* list) { static_cast<T*>(list)->clear(); };
        branch.id = [](const void* entry) -> const std::string& { return static_cast<const Entry*>(entry)->id; };
    }
    return branch;
}
template <class T>
constexpr Branch branch_of = branchOf<T>();

template <class T>
constexpr bool isLeaf() {
    using P = typename WithoutOptional<T>::type;
    return Measurable<P> || Named<P> || std::is_same_v<P, std::string> || std::is_same_v<P, bool>;
}

}  // namespace described

template <class T>
void Visitor::operator()(const char* name, T& member, const Meta& meta) {
    Field field;
    field.at = &member;
    if constexpr (described::isLeaf<T>()) field.member = memberOf<T>();
    else field.branch = &described::branch_of<T>;
    visit(name, field, meta);
}

}  // namespace hinge::project
