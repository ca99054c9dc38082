#include "project/facts.hpp"
#include <type_traits>
#include "project/describe.hpp"
#include "quantity/text.hpp"
#include "timing/time_of_day.hpp"
#include "working/form.hpp"

namespace hinge::project {
namespace {

template <class T>
struct Unwrap {
    using type = T;
    static constexpr bool optional = false;
};
template <class T>
struct Unwrap<std::optional<T>> {
    using type = T;
    static constexpr bool optional = true;
};
template <class T>
struct IsVector : std::false_type {};
template <class T>
struct IsVector<std::vector<T>> : std::true_type {};

Accepts accepts(const Meta& meta) {
    return {meta.least, meta.least_itself, meta.most};
}

std::optional<Error> checkRange(double value, const Meta& meta, Kind kind, const std::string& path, std::string_view text) {
    if (value < meta.least || (value == meta.least && !meta.least_itself) || value > meta.most)
        return Error{ErrorCode::OutOfRange, path, std::string{text}, inWords(accepts(meta), kind)};
    return std::nullopt;
}

constexpr std::size_t longest_text = 2000;

// Lists every labelled leaf.
struct Lister {
    std::vector<Fact>& out;
    std::string prefix;

    template <class T>
    void operator()(const char* name, T& member, const Meta& meta) {
        const std::string path = prefix.empty() ? name : prefix + "/" + name;
        using P = typename Unwrap<T>::type;
        if constexpr (IsVector<T>::value) {
            for (auto& entry : member) {
                Lister inner{out, path + "/" + entry.id};
                describe(inner, entry);
            }
        } else if constexpr (Measurable<P> || Named<P> || std::is_same_v<P, std::string> || std::is_same_v<P, bool>) {
            if (meta.label[0] == '\0') return;
            Fact fact;
            fact.path = path;
            fact.label = meta.label;
            fact.hint = meta.hint;
            fact.stage = meta.stage;
            fill(fact, member, meta);
            out.push_back(std::move(fact));
        } else {
            Lister inner{out, path};
            describe(inner, member);
        }
    }

    template <class T>
    static void fill(Fact& fact, const T& value, const Meta& meta) {
        if constexpr (Unwrap<T>::optional) {
            if (value) {
                fill(fact, *value, meta);
            } else {
                typename Unwrap<T>::type sample{};
                fill(fact, sample, meta);
                fact.text.clear();
                fact.exact.clear();
                fact.known = false;
            }
        } else if constexpr (Measurable<T>) {
            fact.type = FactType::Quantity;
            fact.kind = kindOf<T>;
            fact.text = displayPlain(value);
            fact.exact = exactText(kindOf<T>, si(value));
            fact.range = inWords(accepts(meta), kindOf<T>);
        } else if constexpr (Named<T>) {
            fact.type = FactType::Choice;
            fact.text = labelOf(value);
            fact.exact = nameOf(value);
            for (const auto& entry : Names<T>::all) fact.choices.emplace_back(entry.id, entry.label);
        } else if constexpr (std::is_same_v<T, bool>) {
            fact.type = FactType::Flag;
            fact.text = value ? "yes" : "no";
            fact.exact = fact.text;
        } else {
            fact.type = FactType::Text;
            fact.text = value;
            fact.exact = value;
            fact.known = !value.empty();
        }
    }
};

// Finds the leaf of a path and sets it from text.
struct Setter {
    std::string_view rest;  // path still to walk
    const FactEdit& edit;
    bool found = false;
    std::optional<Error> error;

    template <class T>
    void operator()(const char* name, T& member, const Meta& meta) {
        if (found) return;
        const auto slash = rest.find('/');
        if (rest.substr(0, slash) != name) return;
        const std::string_view below = slash == std::string_view::npos ? std::string_view{} : rest.substr(slash + 1);
        using P = typename Unwrap<T>::type;
        if constexpr (IsVector<T>::value) {
            const auto next = below.find('/');
            for (auto& entry : member)
                if (entry.id == below.substr(0, next) && next != std::string_view::npos) descend(entry, below.substr(next + 1));
        } else if constexpr (Measurable<P> || Named<P> || std::is_same_v<P, std::string> || std::is_same_v<P, bool>) {
            if (!below.empty() || std::string_view{name} == "id") return;
            found = true;
            set(member, meta);
        } else {
            descend(member, below);
        }
    }

    template <class T>
    void descend(T& entry, std::string_view below) {
        Setter inner{below, edit};
        describe(inner, entry);
        found = inner.found;
        error = inner.error;
    }

    template <class T>
    void set(T& member, const Meta& meta) {
        if constexpr (Unwrap<T>::optional) {
            if (edit.value.empty()) {
                member.reset();
                return;
            }
            typename Unwrap<T>::type value{};
            set(value, meta);
            if (!error) member = value;
        } else if constexpr (Measurable<T>) {
            auto value = parseQuantity(kindOf<T>, edit.value);
            if (!value) {
                error = value.error();
                error->field = edit.path;
                return;
            }
            error = checkRange(*value, meta, kindOf<T>, edit.path, edit.value);
            if (!error) member = of<T>(*value);
        } else if constexpr (Named<T>) {
            const auto value = named<T>(edit.value);
            if (value) {
                member = *value;
                return;
            }
            std::string choices;
            for (const auto& entry : Names<T>::all) choices += (choices.empty() ? "" : ", ") + std::string{entry.id};
            error = Error{ErrorCode::Unknown, edit.path, edit.value, "one of " + choices};
        } else if constexpr (std::is_same_v<T, bool>) {
            if (edit.value == "yes" || edit.value == "true") member = true;
            else if (edit.value == "no" || edit.value == "false") member = false;
            else error = Error{ErrorCode::BadFormat, edit.path, edit.value, "yes or no"};
        } else {
            if (edit.value.size() > longest_text) {
                error = Error{ErrorCode::OutOfRange, edit.path, edit.value.substr(0, 20) + "…", "at most 2000 characters"};
                return;
            }
            if (edit.path.ends_with("/times") && !edit.value.empty()) {
                const auto times = timing::parseTimesOfDay(edit.value);
                if (!times) {
                    error = times.error();
                    error->field = edit.path;
                    return;
                }
            }
            member = edit.value;
        }
    }
};

// Multiplies the figure of that name.
struct Scaler {
    std::string_view field;
    double factor;
    bool found = false;
    template <class T>
    void operator()(const char* name, T& member, const Meta&) {
        if (field != name) return;
        if constexpr (Measurable<T>) {
            member = of<T>(si(member) * factor);
            found = true;
        } else if constexpr (Unwrap<T>::optional) {
            if constexpr (Measurable<typename Unwrap<T>::type>)
                if (member) member = of<typename Unwrap<T>::type>(si(*member) * factor), found = true;
        }
    }
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

Result<Project> withOne(const Project& project, const FactEdit& edit) {
    Project changed = project;
    Setter setter{edit.path, edit};
    describe(setter, changed);
    if (setter.error) return tl::unexpected(*setter.error);
    if (!setter.found) return fail(ErrorCode::Unknown, edit.path, edit.path, "there is no such fact in this project");
    return changed;
}

}  // namespace

std::vector<Fact> facts(const Project& project) {
    Project copy = project;
    std::vector<Fact> list;
    Lister lister{list, ""};
    describe(lister, copy);
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

std::optional<Fact> fact(const Project& project, std::string_view path) {
    for (auto& entry : facts(project))
        if (entry.path == path) return entry;
    return std::nullopt;
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
