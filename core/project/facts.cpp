#include "project/facts.hpp"
#include "project/describe.hpp"
#include "quantity/text.hpp"
#include "timing/time_of_day.hpp"
#include "working/form.hpp"
#include <type_traits>

namespace hinge::project {
namespace {

template <class T> struct Unwrap { using type = T; static constexpr bool optional = false; };
template <class T> struct Unwrap<std::optional<T>> { using type = T; static constexpr bool optional = true; };
template <class T> struct IsVector : std::false_type {};
template <class T> struct IsVector<std::vector<T>> : std::true_type {};

Accepts accepts(const Meta& meta) { return {meta.least, meta.least_itself, meta.most}; }

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
    std::string_view rest;     // path still to walk
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

}  // namespace

std::vector<Fact> facts(const Project& project) {
    Project copy = project;
    std::vector<Fact> list;
    Lister lister{list, ""};
    describe(lister, copy);
    return list;
}

std::optional<Fact> fact(const Project& project, std::string_view path) {
    for (auto& entry : facts(project))
        if (entry.path == path) return entry;
    return std::nullopt;
}

Result<Project> with(const Project& project, const FactEdit& edit) {
    Project changed = project;
    Setter setter{edit.path, edit};
    describe(setter, changed);
    if (setter.error) return tl::unexpected(*setter.error);
    if (!setter.found) return fail(ErrorCode::Unknown, edit.path, edit.path, "there is no such fact in this project");
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
