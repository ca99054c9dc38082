// The sketches for single hold points, compiled and run on the emulated board: the channel under test moves, and no other pin does. And
// what the bring-up plan says that the link reads, read off the emulated board with the gadget's own sketch.
#include <algorithm>
#include <map>
#include <sstream>
#include "link/protocol.hpp"
#include "plan/machines.hpp"
#include "proof/bring_up.hpp"
#include "proof/test_sketch.hpp"
#include "support/both_boards.hpp"

namespace hinge {
namespace {

class TestSketches : public testing::TestWithParam<const char*> {
protected:
    void SetUp() override {
        if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc is not installed: ./check installs it";
    }
};

TEST_P(TestSketches, moveTheirOwnChannelOnly) {
    const auto project = test::exampleProject(GetParam());
    const auto parts = test::shippedParts();
    int moved = 0;
    for (const auto& channel : project.channels) {
        const auto made = proof::testSketch(project, parts, channel.id);
        ASSERT_TRUE(made) << channel.id << ": " << sentence(made.error());
        ASSERT_FALSE(made->words.empty()) << channel.id;
        const auto plan = plan::evaluate(made->project, parts);
        auto board = emulator::startGadget(made->project, parts, plan, emulator::usualCache());
        ASSERT_TRUE(board) << channel.id << ": " << sentence(board.error());
        (*board)->keepEdges(100'000);
        const auto driven = plan::drivenChannels(made->project, plan);
        const auto at = std::find_if(driven.begin(), driven.end(), [&](const project::Channel* each) { return each->id == channel.id; });
        ASSERT_NE(at, driven.end()) << channel.id;
        const int own = static_cast<int>(at - driven.begin());
        const double from = 1.0;
        (*board)->advance(from);
        for (const auto& word : made->words)
            (*board)->write(link::encode(link::SayWord{word.word}) + "\n"), (*board)->advance(7.0);  // the longest way takes six
        std::map<int, std::size_t> counts;
        for (const auto& edge : (*board)->edges())
            if (edge.output >= 0 && edge.time > from) ++counts[edge.output];
        for (const auto& [output, edges] : counts) {
            if (output == own) continue;
            // A servo that stands keeps its pulses; whether they stay the same, the next test asks.
            const bool servo = plan.program->outputs[static_cast<std::size_t>(output)].kind == routine::OutputKind::Servo;
            EXPECT_TRUE(servo) << channel.id << " moves " << driven[static_cast<std::size_t>(output)]->id << ", " << edges << " edges";
        }
        EXPECT_GT(counts[own], 0U) << channel.id << " does not move at its words";
        ++moved;
    }
    EXPECT_EQ(moved, static_cast<int>(project.channels.size()));
}

// What stands still keeps one pulse width: servos that are not under test.
TEST_P(TestSketches, leaveOtherServosAtOnePlace) {
    const auto project = test::exampleProject(GetParam());
    const auto parts = test::shippedParts();
    for (const auto& channel : project.channels) {
        const auto made = proof::testSketch(project, parts, channel.id);
        ASSERT_TRUE(made);
        const auto plan = plan::evaluate(made->project, parts);
        bool others = false;
        for (const auto& output : plan.program->outputs)
            others = others || (output.kind == routine::OutputKind::Servo && output.id != channel.id);
        if (!others) continue;
        auto board = emulator::startGadget(made->project, parts, plan, emulator::usualCache());
        ASSERT_TRUE(board);
        (*board)->keepEdges(100'000);
        (*board)->advance(1.0);
        for (const auto& word : made->words) (*board)->write(link::encode(link::SayWord{word.word}) + "\n"), (*board)->advance(4.0);
        std::map<int, double> risen;
        std::map<int, std::pair<double, double>> widths;
        for (const auto& edge : (*board)->edges()) {
            if (edge.output < 0) continue;
            if (edge.level == 1) risen[edge.output] = edge.time;
            else if (risen.count(edge.output) > 0) {
                const double width = edge.time - risen[edge.output];
                auto [range, made_new] = widths.emplace(edge.output, std::pair{width, width});
                if (!made_new) range->second = {std::min(range->second.first, width), std::max(range->second.second, width)};
            }
        }
        for (const auto& [output, range] : widths)
            if (plan.program->outputs[static_cast<std::size_t>(output)].kind == routine::OutputKind::Servo &&
                plan.program->outputs[static_cast<std::size_t>(output)].id != channel.id)
                EXPECT_LT(range.second - range.first, 8e-6)
                    << channel.id << " moves " << plan.program->outputs[static_cast<std::size_t>(output)].id;
    }
}

INSTANTIATE_TEST_SUITE_P(All, TestSketches,
                         testing::Values("paper-moon-stage", "proofing-box", "tightrope-rider", "cloud-chamber-door", "greenhouse-kettle",
                                         "snail-hour"),
                         [](const auto& row) {
                             std::string name = row.param;
                             std::erase(name, '-');
                             return name;
                         });

class OverTheLink : public testing::Test {
protected:
    OverTheLink()
        : project_{test::exampleProject("paper-moon-stage")},
          parts_{test::shippedParts()},
          plan_{plan::evaluate(project_, parts_)},
          steps_{proof::bringUp(project_, parts_, plan_)} {}
    void SetUp() override {
        if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc is not installed: ./check installs it";
        auto board = emulator::startGadget(project_, parts_, plan_, emulator::usualCache());
        ASSERT_TRUE(board) << sentence(board.error());
        board_ = std::move(*board);
        board_->fit(plant::Bench{plan::machinesOf(project_, parts_, plan_).couplings, 1});
        board_->keepEdges(100'000);
    }
    [[nodiscard]] const proof::Step& step(const std::string& id) const {
        return *std::find_if(steps_.begin(), steps_.end(), [&](const proof::Step& each) { return each.id == id; });
    }
    void expectWithin(const std::string& id, double seen) const {
        const auto& s = step(id);
        ASSERT_TRUE(s.least && s.most) << id;
        EXPECT_GE(seen, *s.least) << id;
        EXPECT_LE(seen, *s.most) << id;
    }
    project::Project project_;
    project::Parts parts_;
    plan::Plan plan_;
    std::vector<proof::Step> steps_;
    std::unique_ptr<emulator::EmulatedBoard> board_;
};

TEST_F(OverTheLink, framesComeAsOftenAsTheStepSays) {
    board_->advance(0.5);
    board_->write(link::encode(link::Stream{true}) + "\n");
    board_->advance(0.5);
    static_cast<void>(board_->read());
    link::Decoder receiver;
    board_->advance(1.0);
    int frames = 0;
    for (const auto& each : receiver.feed(board_->read())) frames += std::holds_alternative<link::Telemetry>(each) ? 1 : 0;
    expectWithin("link", frames);
}

TEST_F(OverTheLink, theDoseTakesAsLongAsTheStepSays) {
    board_->advance(0.5);
    int storm = -1;
    for (std::size_t k = 0; k < plan_.program->cues.size(); ++k)
        if (plan_.program->cues[k].id == "storm") storm = static_cast<int>(k);
    ASSERT_GE(storm, 0);
    board_->write(link::encode(link::StartCue{storm}) + "\n");
    double on = 0.0;
    for (int i = 0; i < 600; ++i) {
        board_->advance(0.01);
        on += board_->observe().duty[0] > 0.0 ? 0.01 : 0.0;
    }
    expectWithin("rain.time", on);
}

TEST_F(OverTheLink, theLoopReadsWhatTheStepSays) {
    const auto driven = plan::drivenChannels(project_, plan_);
    int turntable = -1;
    for (std::size_t o = 0; o < driven.size(); ++o)
        if (driven[o]->id == "turntable") turntable = static_cast<int>(o);
    const auto& s = step("turntable.held");
    // A frame's levels are the outputs', then the readings of the inputs that are measured.
    std::size_t signal = plan_.program->outputs.size();
    for (const auto& input : plan_.program->inputs) {
        if (input.id == s.link_input) break;
        const auto* made = project::findInput(project_, input.id);
        if (project::isAnalogue(made->kind) || made->kind == project::InputKind::Tach) ++signal;
    }
    board_->advance(0.5);
    board_->write(link::encode(link::Stream{true}) + "\n");
    link::Decoder receiver;
    std::vector<double> counts;
    for (int i = 0; i < 20; ++i) {
        board_->write(link::encode(link::Drive{turntable, routine::hand_own}) + "\n");
        board_->advance(0.4);
        for (const auto& each : receiver.feed(board_->read()))
            if (const auto* frame = std::get_if<link::Telemetry>(&each); frame != nullptr && i >= 12 && signal < frame->levels.size())
                counts.push_back(frame->levels[signal]);
    }
    ASSERT_GT(counts.size(), 200U);
    double mean = 0.0;
    for (const double each : counts) mean += each / static_cast<double>(counts.size());
    expectWithin("turntable.held", mean);
}

}  // namespace
}  // namespace hinge
