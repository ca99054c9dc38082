#pragma once
// Random gadgets for the plain model, and the same decisions as the program takes them.
#include <array>
#include <random>
#include "routine/compile.hpp"
#include "support/plain_gadget.hpp"

namespace hinge::test::plain {

/// How often the rarer things were among them.
struct Tried {
    int homing = 0, moving = 0, together = 0, powered = 0;
};

class RandomGadget {
public:
    Gadget gadget;
    std::vector<Never> nevers;
    bool has_arm;

    RandomGadget(unsigned seed, Tried& tried) : has_arm(seed % 2 == 0), random_(seed) {
        for (auto& delay : gadget.off_delay) delay = pick(3);
        for (auto& remembered : gadget.remembered) remembered = pick(5) == 0;
        for (int c = 0; c < 2; ++c) gadget.cues.push_back(cue(tried));
        if (pick(4) == 0) gadget.follower = Follower{pick(2), pick(2) == 0, -1};
        if (gadget.follower && pick(2) == 0) gadget.follower->unless = 1 - gadget.follower->input;
        nevers = {{0, 1, {}}, {0, -1, {{1, Term::IsOn}}}, {1, 0, {{0, Term::IsOff}}}};
        if (has_arm) nevers = {{0, -1, {{2, Term::Beyond, 12}}}, {2, 1, {}}, {1, -1, {{2, Term::Short, 11}, {0, Term::IsOff}}}};
        // Who guards or forbids counts as true until it has been read.
        for (const auto& each : gadget.cues)
            for (const auto& guard : each.guards)
                if (!guard.only) gadget.cautious[static_cast<std::size_t>(guard.input)] = true;
        for (const auto& never : nevers)
            if (never.input >= 0) gadget.cautious[static_cast<std::size_t>(never.input)] = true;
        if (gadget.follower && gadget.follower->unless >= 0) gadget.cautious[static_cast<std::size_t>(gadget.follower->unless)] = true;
    }
    [[nodiscard]] Result<routine::Program> program() const {
        return compile(routine(), channels(), {{"x", "x", false, ticks(1)}, {"y", "y", false, ticks(1)}});
    }

private:
    static Duration ticks(int n) { return hinge::of<Duration>(n / 1000.0); }
    static std::string out(int output) { return std::array<std::string, 3>{"a", "b", "arm"}[static_cast<std::size_t>(output)]; }
    static std::string in(int input) { return std::array<std::string, 2>{"x", "y"}[static_cast<std::size_t>(input)]; }
    int pick(int n) { return static_cast<int>(random_() % static_cast<unsigned>(n)); }

    Step step(const Cue& before) {
        Step step;
        step.ticks = 1 + pick(3);
        const int kind = pick(has_arm ? 7 : 5);
        step.what = kind == 0      ? Do::On
                    : kind == 1    ? Do::Off
                    : kind == 2    ? Do::Run
                    : kind == 3    ? Do::Wait
                    : kind == 4    ? Do::Until
                    : pick(3) == 0 ? Do::Home
                                   : Do::Go;
        if (step.what == Do::On || step.what == Do::Off || step.what == Do::Run) step.output = pick(2);
        if (step.what == Do::Go || step.what == Do::Home) step.output = 2, step.place = 10 + 2 * pick(3);
        step.input = pick(2);
        const auto joins = [](const Step& s) { return s.what != Do::Until && s.what != Do::Home; };
        step.together = !before.steps.empty() && pick(3) == 0 && joins(step) && joins(before.steps.back());
        for (auto k = before.steps.rbegin(); step.together && k != before.steps.rend(); ++k) {
            if (k->output == step.output && step.output >= 0) step.together = false;
            if (!k->together) break;
        }
        return step;
    }
    Cue cue(Tried& tried) {
        Cue cue;
        cue.input = pick(3) - 1;
        cue.on_release = cue.input >= 0 && pick(4) == 0;
        cue.at_power_up = pick(4) == 0;
        if (pick(2) == 0) cue.guards.push_back({pick(2), pick(3) != 0, pick(4) == 0});
        const int count = 2 + pick(2);
        for (int m = 0; m < count; ++m) {
            cue.steps.push_back(step(cue));
            const auto& made = cue.steps.back();
            tried.homing += made.what == Do::Home ? 1 : 0, tried.moving += made.what == Do::Go ? 1 : 0;
            tried.together += made.together ? 1 : 0;
        }
        if (pick(3) != 0) cue.steps.push_back({Do::Off, 0}), cue.steps.push_back({Do::Off, 1});
        tried.powered += cue.at_power_up ? 1 : 0;
        return cue;
    }

    [[nodiscard]] std::vector<routine::ChannelNumbers> channels() const {
        std::vector<routine::ChannelNumbers> list;
        for (int o = 0; o < 2; ++o) {
            list.push_back({out(o), out(o), std::nullopt, hinge::of<Duration>(1.0), hinge::of<Fraction>(1.0), Duration{},
                            ticks(gadget.off_delay[static_cast<std::size_t>(o)]), 255});
            list.back().remembered = gadget.remembered[static_cast<std::size_t>(o)];
        }
        list.push_back({"arm", "arm", std::nullopt, hinge::of<Duration>(1.0), hinge::of<Fraction>(1.0), Duration{}, Duration{}, 255});
        list.back().places = routine::ChannelNumbers::Places{routine::OutputKind::Stepper, 10, 1.0, 14, false, ticks(3), 0};
        return list;
    }
    static routine::Move moveOf(const Step& step, std::size_t m) {
        using routine::Action;
        routine::Move move{"m" + std::to_string(m)};
        move.channel = step.output >= 0 ? out(step.output) : "";
        move.action = step.what == Do::On      ? Action::On
                      : step.what == Do::Off   ? Action::Off
                      : step.what == Do::Run   ? Action::Run
                      : step.what == Do::Wait  ? Action::Wait
                      : step.what == Do::Until ? Action::Until
                      : step.what == Do::Go    ? Action::Go
                                               : Action::Home;
        if (step.what != Do::On && step.what != Do::Off) move.time = ticks(step.ticks);
        if (step.what == Do::Until || step.what == Do::Home) move.input = in(step.input);
        if (step.what == Do::Go) move.angle = hinge::of<Angle>(step.place - 10);
        move.together = step.together;
        return move;
    }
    [[nodiscard]] routine::Routine routine() const {
        routine::Routine routine;
        for (std::size_t c = 0; c < gadget.cues.size(); ++c) {
            const auto& plain = gadget.cues[c];
            routine::Cue cue{"c" + std::to_string(c), "cue " + std::to_string(c), plain.input >= 0 ? in(plain.input) : "", "", {}, {}};
            cue.on_release = plain.on_release;
            cue.at_power_up = plain.at_power_up;
            for (const auto& guard : plain.guards) cue.guards.push_back({"g", in(guard.input), guard.throughout, guard.only});
            for (std::size_t m = 0; m < plain.steps.size(); ++m) cue.moves.push_back(moveOf(plain.steps[m], m));
            routine.cues.push_back(std::move(cue));
        }
        if (gadget.follower) {
            const auto& f = *gadget.follower;
            routine.followers.push_back(
                {"f", "a", in(f.input), f.released, false, hinge::of<Fraction>(0.02), Fraction{}, f.unless >= 0 ? in(f.unless) : ""});
        }
        for (std::size_t n = 0; n < nevers.size(); ++n) {
            routine::Interlock never{
                "never" + std::to_string(n), out(nevers[n].output), nevers[n].input >= 0 ? in(nevers[n].input) : "", {}};
            for (const auto& term : nevers[n].terms) {
                routine::Term made{"t" + std::to_string(never.terms.size()), out(term.output), static_cast<routine::TermState>(term.kind),
                                   std::nullopt, std::nullopt};
                if (term.kind >= Term::Beyond) made.angle = hinge::of<Angle>(term.place - 10);
                never.terms.push_back(made);
            }
            routine.interlocks.push_back(std::move(never));
        }
        return routine;
    }

    std::mt19937 random_;
};

}  // namespace hinge::test::plain
