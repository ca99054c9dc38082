#pragma once
// From what failed, and what was seen so far, to the likeliest causes and the test that tells most for the least effort and risk.
#include <map>
#include <string>
#include <vector>
#include "plan/plan.hpp"

namespace hinge::proof {

/// A test that a maker can make, or what was seen first (id "symptom").
struct FaultTest {
    std::string id;
    std::string words;  ///< what to do
    std::string instrument;
    double effort = 1.0;  ///< minutes
    double risk = 0.0;    ///< 0 none … 1: something may be hurt; a caution stands with it
    std::string caution;
    struct Outcome {
        std::string id, words;
    };
    std::vector<Outcome> outcomes;
    std::string healthy;  ///< the outcome of a gadget without a fault
};
/// The symptoms a maker names: "nothing", "hums", "weak", …
[[nodiscard]] const FaultTest& symptoms();

/// One thing that may be wrong.
struct FaultCause {
    std::string id;
    std::string words, cure;
    double prior = 1.0;  ///< before anything is seen, relative
};

/// The likelihoods, as parts/fault_signs.csv gives them: of each outcome of a test when a cause is the true one. What is not listed is
/// as in a healthy gadget.
/// @source common practice, no published source
class FaultSigns {
public:
    /// @error BadFormat  naming the line
    static Result<FaultSigns> parse(std::string_view causes, std::string_view signs);
    /// Those that are shipped.
    [[nodiscard]] static const FaultSigns& shipped();
    [[nodiscard]] double likelihood(const std::string& cause, const FaultTest& test, const std::string& outcome) const;
    struct Entry {
        FaultCause cause;
        std::string suits;
    };
    [[nodiscard]] const std::vector<Entry>& causes() const { return causes_; }

private:
    std::vector<Entry> causes_;
    std::map<std::string, std::map<std::string, std::map<std::string, double>>> signs_;  ///< cause, test, outcome
};

/// What was seen: a test's id and its outcome's.
struct Seen {
    std::string test, outcome;
    friend bool operator==(const Seen&, const Seen&) = default;
};
/// The part that is gone when a cause is the true one: the driver's id, or the actuator's; empty: nothing is broken.
[[nodiscard]] std::string partGone(const project::Channel& channel, const std::string& cause);

struct RankedCause {
    FaultCause cause;
    double probability = 0.0;
    std::vector<std::string> because;  ///< what speaks for it or against it, strongest first
};
struct NextTest {
    FaultTest test;
    double bits = 0.0;   ///< it is expected to tell
    double worth = 0.0;  ///< bits a minute, risk counted as minutes
};

/// A case: one channel of one gadget that misbehaves. Values in, values out: taking an answer back is asking again without it.
class FaultFinder {
public:
    FaultFinder(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, std::string channel,
                const FaultSigns& signs = FaultSigns::shipped());
    [[nodiscard]] const std::vector<FaultCause>& causes() const { return causes_; }
    [[nodiscard]] const std::vector<FaultTest>& tests() const { return tests_; }
    [[nodiscard]] const FaultTest* findTest(std::string_view id) const;
    /// Causes after all that was seen, likeliest first; probabilities add up to 1.
    [[nodiscard]] std::vector<RankedCause> ranked(const std::vector<Seen>& seen) const;
    /// Tests that were not made yet, the one worth most first; empty when nothing more can be told.
    [[nodiscard]] std::vector<NextTest> next(const std::vector<Seen>& seen) const;
    /// Bits that are still open: nothing when one cause is certain.
    [[nodiscard]] double open(const std::vector<Seen>& seen) const;
    /// Enough is known: the likeliest stands above 85 %, or no test tells a tenth of a bit.
    [[nodiscard]] bool settled(const std::vector<Seen>& seen) const;

private:
    [[nodiscard]] std::vector<double> posterior(const std::vector<Seen>& seen) const;
    const FaultSigns* signs_;
    std::vector<FaultCause> causes_;
    std::vector<FaultTest> tests_;
};

}  // namespace hinge::proof
