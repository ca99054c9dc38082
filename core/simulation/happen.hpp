#pragma once
#include "link/protocol.hpp"
#include "plant/stand_in.hpp"
#include "simulation/simulate.hpp"

namespace hinge::simulation {

/// The command with the word that it needs on this gadget: what a word starts, the link starts, drives and sets only with that word.
[[nodiscard]] link::Command withItsWord(const routine::Program& program, link::Command command);
/// Lets an event come to a stand-in: at its inputs, over its link, or to its power.
/// @return nullopt, or the error Unknown: it names an input or cue that is not there
[[nodiscard]] std::optional<Error> happen(plant::Played& one, const routine::Program& program, const Event& event);
/// The machines whose inputs a script leaves alone: what it gives itself, no machine gives.
[[nodiscard]] std::vector<plant::Coupling> unscripted(std::vector<plant::Coupling> machines, const routine::Program& program,
                                                      const std::vector<Event>& script);
/// Plays a script to its end.
/// @param length  s; events from there on are left out
/// @param cancel  looked at every quarter of a second
[[nodiscard]] std::optional<Error> playOn(plant::Played& one, const routine::Program& program, const std::vector<Event>& script,
                                          double length, const std::atomic<bool>* cancel = nullptr);

}  // namespace hinge::simulation
