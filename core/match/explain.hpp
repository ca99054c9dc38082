#pragma once
// A judged pairing in words: findings, workings, and what goes with it.
#include "match/judge.hpp"

namespace hinge::match {

/// @param workings  also the steps behind every figure; without, only words and figures
[[nodiscard]] Pairing explain(const Context& context, const actuator::Part& part, const driver::DriverPart& driver, const RailOption& rail,
                              bool workings = true);
/// The sentence of one touched rule.
[[nodiscard]] std::string sentenceOf(const Hit& hit, const actuator::Part& part, const driver::DriverPart& driver);
/// What must be fitted with this pairing. @source common practice, no published source, except where `why` names one
[[nodiscard]] std::vector<Protection> protection(const Context& context, const actuator::Part& part, const driver::DriverPart& driver,
                                                 const RailOption& rail);
/// A part's own figures by name, as its data sheet lists them: for comparing and for swapping.
[[nodiscard]] std::vector<PartFigure> figuresOf(const actuator::Part& part);
[[nodiscard]] std::vector<PartFigure> figuresOf(const driver::DriverPart& driver);

}  // namespace hinge::match
