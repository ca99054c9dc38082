#pragma once
// Parts, money and time: what is needed, what lies there, what it costs, and what could stand in.
#include "plan/firmware_model.hpp"

namespace hinge::proof {

struct AccountLine {
    std::string id;  ///< of the part in the catalogue; empty: a thing without figures
    std::string name;
    int needed = 0;              ///< by the plan
    int spares = 0;              ///< wanted besides
    std::optional<int> in_hand;  ///< absent: nobody has counted
    int missing = 0;             ///< to be bought; all of them where nobody has counted
    std::optional<Ratio> price;  ///< each
    std::optional<Duration> lead_time;
    std::string substitute;              ///< id, decided
    Verdict verdict = Verdict::Unknown;  ///< holds: enough with its spares; tight: spares are missing; breaks: the gadget cannot be built
};
struct Account {
    std::vector<AccountLine> lines;
    double parts = 0.0;    ///< of the plan's, those with a price, in the project's currency
    double to_buy = 0.0;   ///< what is missing, those with a price
    double journal = 0.0;  ///< costs that were written down
    double shipping = 0.0;
    int unpriced = 0;                 ///< kinds of things without a price
    std::optional<Duration> longest;  ///< lead time of what is missing: nothing is built before it is over
    [[nodiscard]] double spent() const { return parts + journal + shipping; }
};
[[nodiscard]] Account account(const project::Project& project, const project::Parts& parts, const plan::Plan& plan);

/// What could stand in for a part, and what to look at before it does.
struct Substitute {
    std::string id, name;
    Verdict verdict = Verdict::Unknown;  ///< of the gadget's channel with it
    std::vector<std::string> verify;     ///< each a thing that differs in this gadget's plan
    std::vector<std::string> by_hand;    ///< what no data sheet says, and has to be looked at on the part
};
/// The one that was decided, else the best other part or driver of the catalogue that does the same work; nullopt: none does.
/// Numbers that change come from two whole plans; what no data sheet says (pins, screws, shaft) is common practice, no published source.
/// @param plain  the project's plan without evidence, where it is there already; nullptr: it is made
[[nodiscard]] std::optional<Substitute> substituteFor(const project::Project& project, const project::Parts& parts, const plan::Plan& plan,
                                                      const std::string& part, const plan::Plan* plain = nullptr);

/// The project with a fact of a part's stock changed; the line is made where there is none.
/// @param field  "in_hand", "spares", "lead_time", "substitute"
/// @error NotANumber, WrongUnit, OutOfRange
[[nodiscard]] Result<project::Project> recordStock(project::Project project, const std::string& part, const std::string& field,
                                                   const std::string& text);

/// A part's or a driver's name in the catalogue; its id where it is not in it.
[[nodiscard]] std::string partName(const project::Parts& parts, const std::string& id);
/// The project with a failure in its journal; the part that it names is one fewer in the drawer.
[[nodiscard]] project::Project noteFailure(project::Project project, journal::Entry failure);

/// The plan with a finding for each part of which fewer were counted than it needs.
[[nodiscard]] plan::Plan withAccount(plan::Plan plan, const Account& account);

/// As CSV, with a heading.
[[nodiscard]] std::string accountCsv(const Account& account);

}  // namespace hinge::proof
