#include "project/facts.hpp"
#include "project/describe.hpp"
#include "quantity/text.hpp"
#include "timing/time_of_day.hpp"
#include "working/form.hpp"

namespace hinge::project {
namespace {

Accepts accepts(const Meta& meta) {
    return {meta.least, meta.least_itself, meta.most};
}

std::optional<Error> checkRange(double value, const Meta& meta, Kind kind, const std::string& path, std::string_view text) {
    if (value < meta.least || (value == meta.least && !meta.least_itself) || value > meta.most)
        return Error{ErrorCode::OutOfRange, path, std::string{text}, inWords(accepts(meta), kind)};
    return std::nullopt;
}

constexpr std::size_t longest_text = 2000;

// Lists every labelled leaf, or the one of a path; it changes nothing.
class Lister final : public Visitor {
public:
    /// @param wanted  a path, with all that is walked by to it; empty: every leaf
    explicit Lister(std::vector<Fact>& out, std::string_view wanted = "", std::string prefix = "")
        : out_{out}, wanted_{wanted}, prefix_{std::move(prefix)} {}

    void visit(const char* name, const Field& field, const Meta& meta) override {
        const std::string path = prefix_.empty() ? name : prefix_ + "/" + name;
        if (const auto* branch = field.branch) {
            if (!leadsTo(path)) return;
            if (!branch->list) {
                Lister inner{out_, wanted_, path};
                branch->walk(inner, field.at);
                return;
            }
            for (std::size_t i = 0; i < branch->size(field.at); ++i) {
                void* const entry = branch->entry(field.at, i);
                Lister inner{out_, wanted_, path + "/" + branch->id(entry)};
                if (leadsTo(inner.prefix_)) branch->walk(inner, entry);
            }
            return;
        }
        if (meta.label[0] == '\0' || (!wanted_.empty() && path != wanted_)) return;
        Fact fact;
        fact.path = path;
        fact.label = meta.label;
        fact.hint = meta.hint;
        fact.stage = meta.stage;
        fill(fact, field, meta);
        out_.push_back(std::move(fact));
    }

private:
    [[nodiscard]] bool leadsTo(const std::string& path) const {
        return wanted_.empty() || (wanted_.starts_with(path) && wanted_.size() > path.size() && wanted_[path.size()] == '/');
    }
    static void fill(Fact& fact, const Field& field, const Meta& meta) {
        const auto& member = field.member;
        double value = 0.0;
        switch (member.holds) {
            case Member::Holds::Quantity:
                fact.type = FactType::Quantity;
                fact.kind = member.kind;
                fact.range = inWords(accepts(meta), member.kind);
                fact.known = member.take(field.at, value);
                if (!fact.known) return;
                fact.text = displayPlain(member.kind, value);
                fact.exact = exactText(member.kind, value);
                return;
            case Member::Holds::Name: {
                fact.type = FactType::Choice;
                const auto id = member.take_name(field.at);
                fact.known = !id.empty() || !member.optional;
                for (const auto& choice : member.choices()) {
                    fact.choices.emplace_back(choice.id, choice.label);
                    if (id == choice.id) fact.text = choice.label, fact.exact = choice.id;
                }
                return;
            }
            case Member::Holds::Truth:
                fact.type = member.optional ? FactType::Choice : FactType::Flag;
                if (member.optional) fact.choices = {{"", "as usual"}, {"yes", "yes"}, {"no", "no"}};
                fact.known = member.take(field.at, value);
                if (fact.known) fact.text = value != 0.0 ? "yes" : "no";
                fact.exact = fact.text;
                return;
            default: {
                fact.type = FactType::Text;
                fact.text = member.take_text(field.at).value_or("");
                fact.exact = fact.text;
                fact.known = !fact.text.empty();
            }
        }
    }

    std::vector<Fact>& out_;
    std::string_view wanted_;
    std::string prefix_;
};

// Finds the leaf of a path and sets it from text.
class Setter final : public Visitor {
public:
    explicit Setter(const FactEdit& an_edit) : Setter{an_edit.path, an_edit} {}
    bool found = false;
    std::optional<Error> error;

    void visit(const char* name, const Field& field, const Meta& meta) override {
        if (found) return;
        const auto slash = rest_.find('/');
        if (rest_.substr(0, slash) != name) return;
        const std::string_view below = slash == std::string_view::npos ? std::string_view{} : rest_.substr(slash + 1);
        if (const auto* branch = field.branch) {
            if (!branch->list) return descend(*branch, field.at, below);
            const auto next = below.find('/');
            if (next == std::string_view::npos) return;
            for (std::size_t i = 0; i < branch->size(field.at); ++i) {
                void* const entry = branch->entry(field.at, i);
                if (branch->id(entry) == below.substr(0, next)) descend(*branch, entry, below.substr(next + 1));
            }
            return;
        }
        if (!below.empty() || std::string_view{name} == "id") return;
        found = true;
        set(field, meta);
    }

private:
    Setter(std::string_view rest, const FactEdit& an_edit) : rest_{rest}, edit_{an_edit} {}
    void descend(const Branch& branch, void* group, std::string_view below) {
        Setter inner{below, edit_};
        branch.walk(inner, group);
        found = inner.found;
        error = inner.error;
    }
    void refuse(ErrorCode code, std::string accepted) { error = Error{code, edit_.path, edit_.value, std::move(accepted)}; }

    void set(const Field& field, const Meta& meta) {
        const auto& member = field.member;
        if (member.optional && edit_.value.empty()) return member.reset(field.at);
        switch (member.holds) {
            case Member::Holds::Quantity: {
                const auto value = parseQuantity(member.kind, edit_.value);
                if (!value) {
                    error = value.error();
                    error->field = edit_.path;
                    return;
                }
                error = checkRange(*value, meta, member.kind, edit_.path, edit_.value);
                if (!error) member.put(field.at, *value);
                return;
            }
            case Member::Holds::Name:
                if (!member.put_name(field.at, edit_.value)) refuse(ErrorCode::Unknown, "one of " + listed(member.choices()));
                return;
            case Member::Holds::Truth:
                if (edit_.value == "yes" || edit_.value == "true") member.put(field.at, 1.0);
                else if (edit_.value == "no" || edit_.value == "false") member.put(field.at, 0.0);
                else refuse(ErrorCode::BadFormat, "yes or no");
                return;
            default: setText(field);
        }
    }
    void setText(const Field& field) {
        if (edit_.value.size() > longest_text) {
            error = Error{ErrorCode::OutOfRange, edit_.path, edit_.value.substr(0, 20) + "…", "at most 2000 characters"};
            return;
        }
        if (edit_.path.ends_with("/times") && !edit_.value.empty()) {
            const auto times = timing::parseTimesOfDay(edit_.value);
            if (!times) {
                error = times.error();
                error->field = edit_.path;
                return;
            }
        }
        field.member.put_text(field.at, edit_.value);
    }

    std::string_view rest_;  // path still to walk
    const FactEdit& edit_;
};

// Multiplies the figure of that name.
class Scaler final : public Visitor {
public:
    Scaler(std::string_view field, double factor) : field_{field}, factor_{factor} {}
    bool found = false;
    void visit(const char* name, const Field& field, const Meta&) override {
        double value = 0.0;
        if (field_ != name || field.branch != nullptr || field.member.holds != Member::Holds::Quantity) return;
        if (!field.member.take(field.at, value)) return;
        field.member.put(field.at, value * factor_);
        found = true;
    }

private:
    std::string_view field_;
    double factor_;
};

// "channels/moon/demand/mass" is of channel "moon", field "mass"; empty otherwise.
struct DemandPlace {
    std::string channel, field;
};
DemandPlace demandPlace(const std::string& path) {
    constexpr std::string_view list = "channels/";
    if (!path.starts_with(list)) return {};
    const auto slash = path.find('/', list.size());
    if (slash == std::string::npos || path.compare(slash, 8, "/demand/") != 0) return {};
    return {path.substr(list.size(), slash - list.size()), path.substr(slash + 8)};
}

std::string trimmed(std::string_view text) {
    while (!text.empty() && (text.front() == ' ' || text.front() == '\t')) text.remove_prefix(1);
    while (!text.empty() && (text.back() == ' ' || text.back() == '\t')) text.remove_suffix(1);
    return std::string{text};
}

// "90 ± 3 g" → "90 g" and "3 g"; nullopt without a ±.
std::optional<std::pair<std::string, std::string>> splitSpread(const std::string& text) {
    for (const std::string_view sign : {"±", "+/-", "+-"}) {
        const auto at = text.find(sign);
        if (at == std::string::npos) continue;
        std::string value = trimmed(std::string_view{text}.substr(0, at)),
                    spread = trimmed(std::string_view{text}.substr(at + sign.size()));
        // The unit may stand once, at the end.
        if (parseNumber(value) && !spread.ends_with('%')) {
            const auto unit = spread.find_first_not_of("0123456789.");
            if (unit != std::string::npos) value += " " + trimmed(std::string_view{spread}.substr(unit));
        }
        return std::pair{value, spread};
    }
    return std::nullopt;
}

const Spread* spreadOf(const Channel& channel, std::string_view field) {
    for (const auto& spread : channel.spreads)
        if (spread.id == field) return &spread;
    return nullptr;
}

// Shows a value with its spread in one unit: "90 ± 3 g".
std::string withSpread(Kind kind, double value, double share) {
    const auto unit = displayUnit(kind, value);
    const auto shown = displayPlain(kind, value);
    const auto blank = shown.find(' ');
    const std::string number = shown.substr(0, blank), rest = blank == std::string::npos ? "" : shown.substr(blank);
    std::string spread = significant(std::abs(value) * share / unit.factor, 2);
    if (spread.find('.') != std::string::npos) {
        while (spread.back() == '0') spread.pop_back();
        if (spread.back() == '.') spread.pop_back();
    }
    return number + " ± " + spread + rest;
}

Result<Project> withOne(Project changed, const FactEdit& edit) {
    Setter setter{edit};
    describe(setter, changed);
    if (setter.error) return tl::unexpected(*setter.error);
    if (!setter.found) return fail(ErrorCode::Unknown, edit.path, edit.path, "there is no such fact in this project");
    return changed;
}

std::vector<Fact> listed(const Project& project, std::string_view wanted) {
    std::vector<Fact> list;
    Lister lister{list, wanted};
    describe(lister, const_cast<Project&>(project));  // a Lister only reads
    for (auto& fact : list) {
        const auto place = demandPlace(fact.path);
        if (place.field.empty() || !fact.known || fact.type != FactType::Quantity) continue;
        const auto* channel = findChannel(project, place.channel);
        const auto* spread = channel != nullptr ? spreadOf(*channel, place.field) : nullptr;
        if (spread == nullptr) continue;
        fact.spread = si(spread->of_value);
        if (const auto value = parseQuantity(fact.kind, fact.exact)) fact.text = withSpread(fact.kind, *value, *fact.spread);
    }
    return list;
}

}  // namespace

std::vector<Fact> facts(const Project& project) {
    return listed(project, "");
}

std::optional<Fact> fact(const Project& project, std::string_view path) {
    auto list = path.empty() ? std::vector<Fact>{} : listed(project, path);
    return list.empty() ? std::nullopt : std::optional(std::move(list.front()));
}

Result<Project> with(const Project& project, const FactEdit& edit) {
    const auto place = demandPlace(edit.path);
    const auto split = place.field.empty() ? std::nullopt : splitSpread(edit.value);
    if (!split) return withOne(project, edit);
    auto changed = withOne(project, {edit.path, split->first});
    if (!changed) return changed;
    const auto set = fact(*changed, edit.path);
    const auto refuse = [&](std::string accepted) { return fail(ErrorCode::BadFormat, edit.path, edit.value, std::move(accepted)); };
    if (!set || set->type != FactType::Quantity || !set->known) return refuse("a figure, such as 90 ± 3 g");
    const auto value = parseQuantity(set->kind, set->exact);
    double share = 0.0;
    if (split->second.ends_with('%')) {
        const auto percent = parseNumber(trimmed(std::string_view{split->second}.substr(0, split->second.size() - 1)));
        if (!percent) return refuse("a number of percent after ±");
        share = *percent / 100.0;
    } else {
        // A bare figure after ± is in the unit before it.
        std::string text = split->second;
        if (parseNumber(text)) {
            const auto unit = split->first.find_first_not_of("0123456789.-+eE");
            if (unit != std::string::npos) text += " " + trimmed(std::string_view{split->first}.substr(unit));
        }
        const auto off = parseQuantity(set->kind, text);
        if (!off) return refuse("the same unit on both sides of ±");
        share = *value != 0.0 ? *off / std::abs(*value) : *off == 0.0 ? 0.0 : 2.0;
    }
    if (!(share >= 0.0 && share <= 1.0)) return refuse("a spread from 0 to the figure itself");
    for (auto& channel : changed->channels) {
        if (channel.id != place.channel) continue;
        std::erase_if(channel.spreads, [&](const Spread& spread) { return spread.id == place.field; });
        if (share > 0.0) channel.spreads.push_back({place.field, of<Fraction>(share)});
    }
    return changed;
}

std::optional<Demand> scaled(const Demand& demand, std::string_view field, double factor) {
    Demand changed = demand;
    Scaler scaler{field, factor};
    describe(scaler, changed);
    if (!scaler.found) return std::nullopt;
    return changed;
}

Result<Project> with(const Project& project, const std::vector<FactEdit>& edits) {
    Result<Project> changed = project;
    for (const auto& edit : edits) {
        changed = with(*changed, edit);
        if (!changed) return changed;
    }
    return changed;
}

}  // namespace hinge::project
