// Proofs against counting every tick, and seeded faults that they must find.
#include "routine/prove.hpp"
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <algorithm>
#include <array>
#include <random>
#include "support/generated_routine.hpp"
#include "support/plain_gadget.hpp"
#include "support/random_gadget.hpp"

namespace hinge::routine {
namespace {

const InterlockProof& proofOf(const std::vector<InterlockProof>& proofs, const std::string& id) {
    return *std::find_if(proofs.begin(), proofs.end(), [&](const InterlockProof& proof) { return proof.id == id; });
}

std::string told(const InterlockProof& proof) {
    std::string text;
    for (const auto& event : proof.story) text += fmt::format("\n{:4} {}", event.tick, event.event);
    return text;
}

TEST(Proofs, offDelaysInOrderAreProvedByTheirLengths) {
    // The gate's four ticks outlast the collector's two: by hand, the collector is off two ticks before its gate.
    auto made = test::workshop();
    const auto program = *made.program();
    const auto proofs = prove(program);
    for (const auto& proof : proofs) EXPECT_EQ(proof.status, ProofStatus::Proved) << proof.text;
    // The same order of hours, where no tick can be counted.
    for (const auto& proof : prove(*test::workshop(1'000'000).program())) EXPECT_EQ(proof.status, ProofStatus::Proved) << proof.text;
}

// Random routines with movers, homing, moves that start together, power-up cues, memory, stops and power cuts, against a model that
// was written from what a routine means and knows nothing of the interpreter: every tick of every state is tried.
TEST(Proofs, agreeWithAnIndependentModelOnRandomRoutines) {
    int violated = 0, held = 0, skipped = 0;
    test::plain::Tried tried;
    for (unsigned seed = 1; seed <= 520; ++seed) {
        test::plain::RandomGadget made(seed, tried);
        const auto program = made.program();
        ASSERT_TRUE(program) << sentence(program.error());
        const auto proofs = prove(*program);
        for (std::size_t n = 0; n < made.nevers.size(); ++n) {
            const auto can_be = test::plain::Model(made.gadget).canBe(made.nevers[n], 30'000);
            if (!can_be) {
                ++skipped;
                continue;
            }
            const auto& proof = proofOf(proofs, "never" + std::to_string(n));
            ASSERT_EQ(proof.status, *can_be ? ProofStatus::Violated : ProofStatus::Proved) << "seed " << seed << ": " << proof.text;
            const bool by_place = made.has_arm && n != 1;
            if (*can_be && !by_place) EXPECT_TRUE(replays(*program, proof)) << "seed " << seed << ": " << proof.text << told(proof);
            ++(*can_be ? violated : held);
        }
    }
    EXPECT_GT(violated, 300) << "both answers are tried often enough";
    EXPECT_GT(held, 100);
    EXPECT_LT(skipped, 150);
    for (const int times : {tried.homing, tried.moving, tried.together, tried.powered}) EXPECT_GT(times, 50);
    RecordProperty("violated", violated), RecordProperty("held", held), RecordProperty("skipped", skipped);
}

TEST(Proofs, twelveChannelsAndFortyCuesAreExploredFully) {
    for (const int together : {1, 4, 6}) {
        const auto program = *test::generated(together).program();
        ASSERT_EQ(program.outputs.size(), 12U);
        ASSERT_EQ(program.cues.size(), 40U);
        for (const auto& proof : prove(program))
            EXPECT_EQ(proof.status, ProofStatus::Proved) << together << " timers: " << proof.text << ", " << proof.states << " states";
    }
}

TEST(Proofs, twelveTimersAtOnceAreReportedAsFarAsTheyWent) {
    auto made = test::generated(12);
    // A search that is cut off claims nothing: it says how far it came.
    const auto proofs = prove(*made.program(), 20'000);
    const auto& first = proofs.front();
    EXPECT_EQ(first.status, ProofStatus::Bounded);
    EXPECT_GT(first.states, 100U);
    EXPECT_GT(first.depth, 0U);
}

// Twelve inputs and ten cues: what may come in one tick are hundreds of millions of things. It says that it did not see all, and takes no
// room.
TEST(Proofs, whatCannotAllBeTriedIsSaidAtOnce) {
    Routine routine;
    std::vector<InputNumbers> inputs;
    const std::vector<ChannelNumbers> channels{
        {"a", "a", std::nullopt, hinge::of<Duration>(1.0), hinge::of<Fraction>(1.0), Duration{}, Duration{}, 255}};
    for (int i = 0; i < 12; ++i) inputs.push_back({"in" + std::to_string(i), "in", false, hinge::of<Duration>(0.001)});
    for (int c = 0; c < 10; ++c) {
        Cue cue{"c" + std::to_string(c), "c", "in" + std::to_string(c), "", {}, {{"r", Action::Run, "a", hinge::of<Duration>(1.0 + c)}}};
        cue.guards.push_back({"g", "in11", true});
        routine.cues.push_back(cue);
    }
    routine.interlocks.push_back({"never", "a", "in11", {}});
    const auto program = compile(routine, channels, inputs);
    ASSERT_TRUE(program) << sentence(program.error());
    const auto proofs = prove(*program, 50'000);
    const auto& proof = proofOf(proofs, "never");
    EXPECT_EQ(proof.status, ProofStatus::Bounded) << "nothing is claimed";
}

// Fifty seeded faults in routines that hold: a guard left out, or asked at the start only, or of the wrong input; an off-delay
// too short, a wait in the wrong place, a follower that heeds no lid. Each breaks a statement, and must be found.
struct Fault {
    std::string what;
    test::Generated made;
    std::string rule;
};
std::vector<Fault> faults() {
    std::vector<Fault> list;
    std::mt19937 random(2026);
    const auto pick = [&](std::size_t n) { return static_cast<std::size_t>(random() % n); };
    for (int k = 0; k < 14; ++k) {
        auto made = test::generated(6);
        auto* chosen = &made.routine.cues[pick(made.routine.cues.size())];
        while (chosen->moves.front().channel.size() > 4) chosen = &made.routine.cues[pick(made.routine.cues.size())];
        auto& cue = *chosen;
        const std::string out = cue.moves.front().channel;
        if (k % 3 == 0) cue.guards.erase(cue.guards.begin());
        else if (k % 3 == 1) cue.guards.front().throughout = false;
        else cue.guards.front().input = cue.guards.front().input == "dry3" ? "dry4" : "dry3";
        list.push_back({fmt::format("guard of {}, way {}", cue.id, k % 3), std::move(made), "never_dry" + out.substr(3)});
    }
    for (int k = 0; k < 10; ++k) {
        auto made = test::workshop(1 + static_cast<int>(pick(400)));
        made.channels[1].off_delay = hinge::of<Duration>(si(made.channels[0].off_delay) * (0.05 * k));
        list.push_back({fmt::format("gate shuts after {:.0f} ms", 1000 * si(made.channels[1].off_delay)), std::move(made), "never_shut"});
    }
    for (int k = 0; k < 10; ++k) {
        auto made = test::workshop(1 + static_cast<int>(pick(400)));
        auto& moves = made.routine.cues.front().moves;
        if (k % 2 == 0) std::swap(moves[0], moves[2]);                      // the collector before its gate
        else std::rotate(moves.begin() + 3, moves.end() - 1, moves.end());  // the gate let go before the work
        list.push_back({fmt::format("order {}", k % 2), std::move(made), "never_shut"});
    }
    for (int k = 0; k < 8; ++k) {
        auto made = test::workshop(1 + static_cast<int>(pick(400)));
        auto& cue = made.routine.cues.front();
        if (k % 2 == 0) cue.guards.front().throughout = false;
        else cue.guards.clear();
        list.push_back({fmt::format("lid, way {}", k % 2), std::move(made), "never_open"});
    }
    for (int k = 0; k < 8; ++k) {
        auto made = test::workshop(1 + static_cast<int>(pick(400)));
        auto& follower = made.routine.followers.front();
        if (k % 2 == 0) follower.unless.clear();
        else follower.unless = "work";
        list.push_back({fmt::format("heater, way {}", k % 2), std::move(made), "never_hot"});
    }
    return list;
}
TEST(Proofs, fiftySeededFaultsAreFoundAndTheirStoriesReplay) {
    const auto list = faults();
    ASSERT_EQ(list.size(), 50U);
    for (const auto& fault : list) {
        auto program = fault.made.program();
        ASSERT_TRUE(program) << sentence(program.error());
        std::erase_if(program->interlocks, [&](const ProgramInterlock& rule) { return rule.id != fault.rule; });
        const auto proofs = prove(*program);
        const auto& proof = proofOf(proofs, fault.rule);
        ASSERT_EQ(proof.status, ProofStatus::Violated) << fault.what << ", " << proof.states << " states";
        EXPECT_TRUE(replays(*program, proof)) << fault.what;
        EXPECT_LE(proof.story.size(), 8U) << fault.what << ": a story that can be read";
    }
}

TEST(Proofs, aPositionCoversTheWholeMove) {
    ChannelNumbers arm{"arm", "Arm", std::nullopt, hinge::of<Duration>(1.0), hinge::of<Fraction>(1.0), Duration{}, Duration{}, 255};
    arm.places = ChannelNumbers::Places{OutputKind::Servo, 2000, 100.0, 4000, false, hinge::of<Duration>(1.0), 0};
    ChannelNumbers saw{"saw", "Saw", std::nullopt, hinge::of<Duration>(1.0), hinge::of<Fraction>(1.0), Duration{}, Duration{}, 255};
    Routine routine;
    Cue swing{"swing",
              "swing",
              "",
              "",
              {},
              {{"go", Action::Go, "arm", hinge::of<Duration>(0.5), hinge::of<Angle>(10.0)},
               {"back", Action::Go, "arm", hinge::of<Duration>(0.5), hinge::of<Angle>(0.0)}}};
    Cue cut{"cut", "cut", "", "", {}, {{"run", Action::Run, "saw", hinge::of<Duration>(0.2)}}};
    routine.cues = {swing, cut};
    routine.interlocks.push_back({"far", "saw", "", {{"t", "arm", TermState::Beyond, hinge::of<Angle>(9.0), std::nullopt}}});
    routine.interlocks.push_back({"farther", "saw", "", {{"t", "arm", TermState::Beyond, hinge::of<Angle>(10.0), std::nullopt}}});
    const auto program = compile(routine, {arm, saw}, {});
    ASSERT_TRUE(program) << sentence(program.error());
    const auto proofs = prove(*program);
    EXPECT_EQ(proofOf(proofs, "far").status, ProofStatus::Violated) << "a move to 10 rad passes 9";
    EXPECT_EQ(proofOf(proofs, "farther").status, ProofStatus::Proved) << "it ends at 10 and is never beyond";
}

TEST(Proofs, whatIsRememberedMayComeOnWithThePower) {
    Routine routine;
    Cue press{"press", "press", "button", "", {{"lid", "lid", true}}, {{"t", Action::Toggle, "lamp"}}};
    routine.cues = {press};
    routine.interlocks.push_back({"open", "lamp", "lid", {}});
    ChannelNumbers lamp{"lamp", "Lamp", std::nullopt, hinge::of<Duration>(1.0), hinge::of<Fraction>(1.0), Duration{}, Duration{}, 255};
    const std::vector<InputNumbers> inputs{{"button", "button", false, hinge::of<Duration>(0.001)},
                                           {"lid", "lid", false, hinge::of<Duration>(0.001)}};
    // The cue is over as soon as it has changed over, so its guard guards nothing any more.
    const auto found = prove(*compile(routine, {lamp}, inputs)).front();
    EXPECT_EQ(found.status, ProofStatus::Violated);
    lamp.remembered = true;
    routine.cues.front().moves = {
        {"on", Action::On, "lamp"}, {"hold", Action::Wait, "", hinge::of<Duration>(5.0)}, {"off", Action::Off, "lamp"}};
    const auto program = *compile(routine, {lamp}, inputs);
    const auto power = prove(program).front();
    EXPECT_EQ(power.status, ProofStatus::Violated) << "guarded while it runs, but the power cut ends the cue and keeps the lamp";
    EXPECT_TRUE(std::any_of(power.story.begin(), power.story.end(),
                            [](const StoryEvent& event) { return event.event.find("power") != std::string::npos; }));
    EXPECT_TRUE(replays(program, power));
    lamp.remembered = false;
    EXPECT_EQ(prove(*compile(routine, {lamp}, inputs)).front().status, ProofStatus::Proved);
}

TEST(Proofs, whatNothingTurnsOffIsFound) {
    Routine routine;
    routine.cues.push_back({"press", "press", "button", "", {}, {{"on", Action::On, "lamp"}}});
    ChannelNumbers lamp{"lamp", "Lamp", std::nullopt, hinge::of<Duration>(1.0), hinge::of<Fraction>(1.0), Duration{}, Duration{}, 255};
    const std::vector<InputNumbers> inputs{{"button", "button", false, hinge::of<Duration>(0.001)}};
    const auto program = *compile(routine, {lamp}, inputs);
    const auto proofs = prove(program);
    ASSERT_EQ(proofs.size(), 1U);
    EXPECT_EQ(proofs.front().claim, Claim::Ends);
    EXPECT_EQ(proofs.front().status, ProofStatus::Violated);
    EXPECT_TRUE(replays(program, proofs.front()));
    Cue release{"release", "release", "button", "", {}, {{"off", Action::Off, "lamp"}}};
    release.on_release = true;
    routine.cues.push_back(release);
    EXPECT_EQ(prove(*compile(routine, {lamp}, inputs)).front().status, ProofStatus::Proved) << "letting go turns it off";
}

TEST(Bounds, areTheLongestTimesOfTheProgram) {
    auto made = test::workshop();
    const auto bounds = boundsOf(*made.program());
    EXPECT_EQ(bounds.longest_wait, 5) << "by hand: the work's five ticks";
    EXPECT_EQ(bounds.longest_homing, 0);
    EXPECT_EQ(bounds.safe_within, 1);
}

}  // namespace
}  // namespace hinge::routine
