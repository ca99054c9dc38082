#pragma once
// What the rules say of a routine.
#include "plan/plan.hpp"

namespace hinge::plan {

/// Puts a finding into the plan.
void add(Plan& plan, std::string id, Severity severity, Stage stage, const std::string& channel, std::string text,
         std::vector<Remedy> remedies = {});
/// As it is written, whatever it is built with.
void judgeRoutine(const project::Project& project, Plan& plan);
/// What it asks of a channel, against what Match says it does: a time that was typed beside the dose, a move that is faster than its servo.
void judgeAsked(const project::Project& project, Plan& plan);
/// What starts by itself, needs the time, stands anywhere at power-up, can hurt, or runs dry.
void judgeTheRest(const project::Project& project, Plan& plan);

}  // namespace hinge::plan
