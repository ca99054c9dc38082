#include "drawing/arranged.hpp"
#include <algorithm>

namespace hinge::drawing {

std::set<std::string> Placed::terminals() const {
    std::set<std::string> names;
    for (const auto* tracks : {&outer, &inner})
        for (const auto& track : *tracks) names.insert(track.raw);
    for (const auto* risers : {&top, &bottom})
        for (const auto& riser : *risers) names.insert(riser.raw);
    return names;
}

namespace {

struct Read {
    std::size_t row;
    End from, to;
    [[nodiscard]] bool joins() const { return !from.box.empty() && !to.box.empty(); }
};

// Sets of boxes that wires join.
class Groups {
public:
    void add(const std::string& box) { of_.try_emplace(box, box), order(box); }
    void join(const std::string& a, const std::string& b) { of_[root(b)] = root(a); }
    [[nodiscard]] std::string root(const std::string& box) {
        auto at = box;
        while (of_.at(at) != at) at = of_.at(at);
        return at;
    }
    [[nodiscard]] const std::vector<std::string>& boxes() const { return boxes_; }

private:
    void order(const std::string& box) {
        if (std::find(boxes_.begin(), boxes_.end(), box) == boxes_.end()) boxes_.push_back(box);
    }
    std::map<std::string, std::string> of_;
    std::vector<std::string> boxes_;
};

// Which of a terminal's wires says where it leaves its box.
int rank(const End& other, bool lies, bool linked) {
    if (linked) return 0;
    switch (other.kind) {
        case EndKind::Pin: return 1;
        case EndKind::Rail: return lies ? 2 : 3;
        case EndKind::Logic: return lies ? 2 : 4;
        case EndKind::Mains: return 5;
        case EndKind::Ground: return 6;
        case EndKind::Return: return 7;
        case EndKind::Converter:
        case EndKind::Nothing: return 8;
        case EndKind::Terminal: return 9;
    }
    return 9;
}

// One circuit: its boxes and their wires are told to it.
class Arranger {
public:
    Arranger(const Ends& ends, const std::vector<plan::WireRow>& rows, std::vector<std::string> boxes) : rows_(rows) {
        // What drives stands first, and what it drives behind it.
        const auto first = std::find_if(boxes.begin(), boxes.end(), [&](const auto& key) { return ends.box(key).drives; });
        if (first != boxes.end()) std::rotate(boxes.begin(), first, first + 1);
        circuit_.first.box = ends.box(boxes.front());
        for (std::size_t k = 1; k < boxes.size(); ++k) circuit_.behind.push_back({ends.box(boxes[k]), {}, {}, {}, {}});
    }
    void add(const Read& read) { reads_.push_back(read); }
    Circuit arrange();

private:
    [[nodiscard]] Placed& placed(const std::string& key) {
        if (circuit_.first.box.key == key) return circuit_.first;
        return *std::find_if(circuit_.behind.begin(), circuit_.behind.end(), [&](const Placed& each) { return each.box.key == key; });
    }
    [[nodiscard]] bool linked(const Read& read) const {
        return read.joins() && read.from.box != read.to.box &&
               (read.from.box == circuit_.first.box.key || read.to.box == circuit_.first.box.key);
    }
    [[nodiscard]] const plan::Wire& wire(const Read& read) const { return rows_[read.row].wire; }
    void link(const Read& read);
    void strap(const Read& read);
    void leave(const Read& read, bool from);
    void branch(const Read& read, const std::string& raw, const End& other);
    void host(const Read& read);
    Track* trackOf(const std::string& raw);
    const std::vector<plan::WireRow>& rows_;
    std::vector<Read> reads_;
    Circuit circuit_;
};

Track* Arranger::trackOf(const std::string& raw) {
    const auto in = [&](std::vector<Track>& tracks) -> Track* {
        for (auto& track : tracks)
            if (track.raw == raw || track.far_raw == raw) return &track;
        return nullptr;
    };
    if (auto* found = in(circuit_.first.inner)) return found;
    if (auto* found = in(circuit_.first.outer)) return found;
    for (auto& each : circuit_.behind)
        if (auto* found = in(each.outer)) return found;
    return nullptr;
}

void Arranger::link(const Read& read) {
    const bool out = read.from.box == circuit_.first.box.key;
    const auto &near = out ? read.from : read.to, &far = out ? read.to : read.from;
    Track track{read.row, near.name, out ? wire(read).from : wire(read).to, {}, far.box, out ? wire(read).to : wire(read).from, far.name,
                {},       false};
    circuit_.first.inner.push_back(std::move(track));
}

void Arranger::strap(const Read& read) {
    auto& at = placed(read.from.box);
    at.outer.push_back({read.row, read.from.name, wire(read).from, {}, {}, {}, {}, {}, true});
    at.outer.push_back({read.row, read.to.name, wire(read).to, {}, {}, {}, {}, {}, false});
}

// A wire from a terminal to a port, as the one that says where its terminal is.
void Arranger::leave(const Read& read, bool from) {
    const auto &end = from ? read.from : read.to, &other = from ? read.to : read.from;
    const auto& raw = from ? wire(read).from : wire(read).to;
    auto& at = placed(end.box);
    const bool lies = wire(read).through.has_value();
    const bool upward = other.kind == EndKind::Rail || other.kind == EndKind::Logic || other.kind == EndKind::Mains,
               downward = other.kind == EndKind::Ground || other.kind == EndKind::Return;
    if (!lies && upward) at.top.push_back({read.row, end.name, raw, other});
    else if (!lies && downward) at.bottom.push_back({read.row, end.name, raw, other});
    else at.outer.push_back({read.row, end.name, raw, other, {}, {}, {}, {}, false});
}

// One more wire of a terminal that has its place: on its run where it ends above or below, else a run of its own.
void Arranger::branch(const Read& read, const std::string& raw, const End& other) {
    auto* track = trackOf(raw);
    const bool hangs = other.kind != EndKind::Pin && other.kind != EndKind::Terminal && other.kind != EndKind::Nothing;
    if (track != nullptr && hangs) track->branches.push_back({read.row, other, wire(read).from == raw, false});
    else leave(read, wire(read).from == raw);
}

// A wire between two ports: on the run of its pin.
void Arranger::host(const Read& read) {
    const bool from = read.from.kind == EndKind::Pin;
    const auto &pin = from ? read.from : read.to, &other = from ? read.to : read.from;
    std::vector<Placed*> all{&circuit_.first};
    for (auto& each : circuit_.behind) all.push_back(&each);
    if (pin.kind == EndKind::Pin && other.kind != EndKind::Pin && other.kind != EndKind::Nothing)
        for (auto* placed : all)
            for (auto& track : placed->outer)
                if (track.port.kind == EndKind::Pin && track.port.name == pin.name) {
                    track.branches.push_back({read.row, other, from, true});
                    return;
                }
    circuit_.loose.push_back(read.row);
}

Circuit Arranger::arrange() {
    // Of each terminal the wire that says where it leaves its box.
    std::map<std::string, std::pair<int, std::size_t>> first;  // by the end's name in the list: rank, and place in reads_
    for (std::size_t k = 0; k < reads_.size(); ++k) {
        const auto& read = reads_[k];
        const auto ask = [&](const End& end, const End& other, const std::string& raw) {
            if (end.box.empty()) return;
            const int ranked = rank(other, wire(read).through.has_value(), linked(read));
            const auto [at, fresh] = first.try_emplace(raw, ranked, k);
            if (!fresh && ranked < at->second.first) at->second = {ranked, k};
        };
        ask(read.from, read.to, wire(read).from);
        ask(read.to, read.from, wire(read).to);
    }
    for (const auto& read : reads_)
        if (linked(read)) link(read);
    std::vector<const Read*> rest;
    for (std::size_t k = 0; k < reads_.size(); ++k) {
        const auto& read = reads_[k];
        if (linked(read) || read.joins() || (read.from.box.empty() && read.to.box.empty())) continue;
        const bool from = !read.from.box.empty();
        if (first.at(from ? wire(read).from : wire(read).to).second == k) leave(read, from);
        else rest.push_back(&read);
    }
    for (const auto* read : rest) {
        const bool from = !read->from.box.empty();
        branch(*read, from ? wire(*read).from : wire(*read).to, from ? read->to : read->from);
    }
    for (const auto& read : reads_) {
        if (read.from.box.empty() && read.to.box.empty()) host(read);
        else if (read.joins() && read.from.box == read.to.box) strap(read);
        else if (read.joins() && !linked(read)) circuit_.loose.push_back(read.row);
    }
    return std::move(circuit_);
}

}  // namespace

std::vector<Circuit> arranged(const Ends& ends, const std::vector<plan::WireRow>& rows) {
    std::vector<Read> reads;
    Groups groups;
    for (std::size_t row = ends.supplyRows(); row < rows.size(); ++row) {
        reads.push_back({row, ends.read(rows[row].wire.from, row), ends.read(rows[row].wire.to, row)});
        const auto& read = reads.back();
        for (const auto* box : {&read.from.box, &read.to.box})
            if (!box->empty()) groups.add(*box);
        if (read.joins()) groups.join(read.from.box, read.to.box);
    }
    std::vector<std::string> roots;
    std::map<std::string, std::vector<std::string>> boxes;
    for (const auto& box : groups.boxes()) {
        auto& all = boxes[groups.root(box)];
        if (all.empty()) roots.push_back(groups.root(box));
        all.push_back(box);
    }
    std::map<std::string, Arranger> arrangers;
    for (const auto& root : roots) arrangers.try_emplace(root, ends, rows, boxes.at(root));
    // A wire between two ports goes to the circuit that its pin belongs to: that of the wire before it.
    std::string last = roots.empty() ? std::string{} : roots.front();
    std::map<std::string, std::string> of_pin;
    for (const auto& read : reads) {
        if (read.from.box.empty() == read.to.box.empty()) continue;
        const auto& port = read.from.box.empty() ? read.from : read.to;
        if (port.kind == EndKind::Pin) of_pin.try_emplace(port.name, groups.root(read.from.box.empty() ? read.to.box : read.from.box));
    }
    for (const auto& read : reads) {
        if (!read.from.box.empty() || !read.to.box.empty()) last = groups.root(read.from.box.empty() ? read.to.box : read.from.box);
        else
            for (const auto* end : {&read.from, &read.to})
                if (end->kind == EndKind::Pin && of_pin.contains(end->name)) last = of_pin.at(end->name);
        if (!last.empty()) arrangers.at(last).add(read);
    }
    std::vector<Circuit> circuits;
    for (const auto& root : roots) circuits.push_back(arrangers.at(root).arrange());
    return circuits;
}

}  // namespace hinge::drawing
