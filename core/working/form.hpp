#pragma once
#include <cmath>
#include <functional>
#include <limits>
#include <memory>
#include <string>
#include <utility>
#include <variant>
#include <vector>
#include "quantity/names.hpp"
#include "quantity/text.hpp"
#include "quantity/units.hpp"
#include "working/member.hpp"
#include "working/worked.hpp"

namespace hinge {
inline namespace working {

/// A value as the command line and the JSON show it.
using ShownValue = std::variant<std::monostate, double, bool, std::string, std::vector<double>>;
struct Shown {
    std::string name;
    ShownValue value;
    std::string unit;
};

/// Inputs as given: name and text, in the order given.
using Given = std::vector<std::pair<std::string, std::string>>;

/// What a working answers: inputs echoed with their defaults, results, judgement and steps.
struct Answer {
    std::string work;
    std::vector<Shown> inputs;
    std::vector<Shown> results;
    Verdict verdict = Verdict::Holds;
    std::vector<Finding> findings;
    Steps steps;
};

/// Describes one input for help and for parsing.
struct InputSpec {
    std::string name;
    std::string unit;          ///< shown and, for a bare number, assumed
    std::string default_text;  ///< empty: required, or see `optional`
    bool optional = false;     ///< may be absent
    std::string help;
    std::string range;    ///< in words
    std::string choices;  ///< of an enumeration, comma-separated
};
struct OutputSpec {
    std::string name;
    std::string unit;
    std::string help;
};

/// Which numbers an input accepts, in SI.
struct Accepts {
    double least = 0.0;
    bool least_itself = false;  // least is accepted too
    double most = std::numeric_limits<double>::infinity();
};
[[nodiscard]] std::string inWords(const Accepts& accepts, Kind kind);

/// A working as the command line sees it: described, and answered from text.
class Form {
public:
    Form() = default;
    Form(const Form&) = delete;
    Form& operator=(const Form&) = delete;
    virtual ~Form() = default;
    [[nodiscard]] virtual Result<Answer> answer(const Given& given) const = 0;

    std::string name;
    std::string stage;
    std::string summary;
    std::string formula;  ///< the rule in one or two lines, for help
    std::string source;
    std::vector<InputSpec> inputs;
    std::vector<OutputSpec> outputs;

protected:
    struct Binding {
        Member member;
        std::size_t offset = 0;  // of the member within the input
        Accepts accepts;
        std::string bare;
        std::vector<std::pair<std::string, std::string>> spellings;
    };
    struct Reader {
        Member member;
        std::size_t offset = 0;
        UnitScale scale;
    };
    void addInput(const char* input, const Member& member, std::size_t offset, const char* default_text, const char* help);
    void addOutput(const char* output, const Member& member, std::size_t offset, const char* help, const char* unit);
    void addOtherwise(const char* words);
    void describe();
    /// Sets the input's members from what was given and from the defaults.
    [[nodiscard]] std::optional<Error> read(const Given& given, void* in) const;
    /// What is answered, but for verdict, findings and steps.
    [[nodiscard]] Answer told(const void* in, const void* result) const;

    std::vector<Binding> bindings_;
    std::vector<Reader> readers_;
    std::vector<std::vector<std::vector<std::string>>> groups_;
    std::vector<std::vector<std::string>> pairs_;

private:
    [[nodiscard]] std::optional<Error> set(void* in, std::size_t index, std::string_view text) const;
    [[nodiscard]] std::optional<std::size_t> indexOf(std::string_view key) const;
    [[nodiscard]] bool inGroup(std::string_view key) const;
    [[nodiscard]] std::optional<Error> checkGroup(const std::vector<std::vector<std::string>>& sets, const std::vector<bool>& seen) const;
    [[nodiscard]] std::optional<Error> checkPair(const std::vector<std::string>& pair, const std::vector<bool>& seen) const;
};
using FormPtr = std::shared_ptr<const Form>;

/// Ties a typed working to its description. One `in` per input, one `out` per result; a modifier
/// (`zeroOk`, `signedOk`, `upTo`, `from`, `bare`) applies to the input before it.
template <class In, class Out>
class FormOf final : public Form {
public:
    using Function = Result<Worked<Out>> (*)(const In&);
    FormOf(const char* work, const char* of_stage, const char* what, const char* from_source, Function function) : function_{function} {
        name = work;
        stage = of_stage;
        summary = what;
        source = from_source;
    }

    /// `default_text`: nullptr is required (or optional, if the member is); otherwise parsed.
    template <class M>
    FormOf& in(const char* input, M In::*member, const char* default_text, const char* help) {
        addInput(input, memberOf<M>(), offsetIn<In>(member), default_text, help);
        return *this;
    }
    FormOf& zeroOk() {
        bindings_.back().accepts.least_itself = true;
        describe();
        return *this;
    }
    FormOf& signedOk() {
        bindings_.back().accepts.least = -std::numeric_limits<double>::infinity();
        describe();
        return *this;
    }
    FormOf& between(double least, double most) {
        bindings_.back().accepts = {least, true, most};
        describe();
        return *this;
    }
    /// Other spellings of a value, as given and as read.
    FormOf& spelt(std::vector<std::pair<std::string, std::string>> spellings) {
        bindings_.back().spellings = std::move(spellings);
        return *this;
    }
    FormOf& upTo(double most) {
        bindings_.back().accepts.most = most;
        describe();
        return *this;
    }
    /// A bare number is in `unit`, and the echo is too.
    FormOf& bare(const char* unit) {
        bindings_.back().bare = unit;
        inputs.back().unit = unit;
        describe();
        return *this;
    }
    /// What an absent optional input stands for, in words.
    FormOf& otherwise(const char* words) {
        addOtherwise(words);
        return *this;
    }
    /// The rule in words and signs, for help.
    FormOf& rule(const char* text) {
        formula = text;
        return *this;
    }
    /// Exactly one of these sets of inputs is to be given, each whole.
    FormOf& oneOf(std::vector<std::vector<std::string>> sets) {
        groups_.push_back(std::move(sets));
        return *this;
    }
    /// All or none of these.
    FormOf& together(std::vector<std::string> pair) {
        pairs_.push_back(std::move(pair));
        return *this;
    }
    /// Fills defaults that depend on other inputs, before the working and the echo.
    FormOf& resolve(std::function<void(In&)> fill) {
        resolve_ = std::move(fill);
        return *this;
    }
    /// Sets what is not an input (a reader of files) before the inputs are read.
    FormOf& prepare(std::function<void(In&)> set_up) {
        prepare_ = std::move(set_up);
        return *this;
    }

    template <class M>
    FormOf& out(const char* output, M Out::*member, const char* help, const char* unit = nullptr) {
        addOutput(output, memberOf<M>(), offsetIn<Out>(member), help, unit);
        return *this;
    }

    [[nodiscard]] Result<Answer> answer(const Given& given) const override {
        In in_value{};
        if (prepare_) prepare_(in_value);
        if (auto error = read(given, &in_value)) return tl::unexpected(std::move(*error));
        if (resolve_) resolve_(in_value);
        auto worked = function_(in_value);
        if (!worked) return tl::unexpected(std::move(worked.error()));
        Answer answer = told(&in_value, &worked->result);
        answer.verdict = worked->verdict;
        answer.findings = std::move(worked->findings);
        answer.steps = std::move(worked->steps);
        return answer;
    }

private:
    Function function_;
    std::function<void(In&)> resolve_, prepare_;
};

}  // namespace working
}  // namespace hinge

// Compiled once, in form.cpp.
extern template class std::vector<hinge::InputSpec>;
extern template class std::vector<hinge::OutputSpec>;
extern template class std::vector<hinge::Shown>;
extern template class std::vector<hinge::FormPtr>;
