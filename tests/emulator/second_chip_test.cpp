// The emitted sketches on two independent models of the same chip: libsimavr, which this program uses, and avr8js (npm, for tests only).
// Every edge of every output must be there on both, within 20 µs.
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <fstream>
#include <sstream>
#include "emulator/gadget.hpp"
#include "simulation/scene.hpp"
#include "support/alone.hpp"
#include "support/folder.hpp"
#include "support/program.hpp"

namespace hinge {
namespace {

const std::string modules = HINGE_SOURCE_DIR "/build/npm/node_modules";

// One press of an input: when, which, and for how long [s].
struct Press {
    double at;
    std::size_t input;
    double lasts;
};
using Edges = std::vector<std::pair<double, int>>;  // s, level
struct Compared {
    std::size_t edges = 0;
    double worst = 0.0;  // s
    int by_themselves = 0;
};

// Where a PWM output is connected in the middle of a period, the pin takes what the waveform generator has at that moment: one
// model has the pulse that was going on, the other begins with the next period. Nothing else may be there on one of them only.
bool isBySelf(const Edges& list, std::size_t k) {
    constexpr double period = 1.1e-3, rest = 0.03;
    return k + 1 < list.size() && list[k].second == 1 && (k == 0 || list[k].first - list[k - 1].first > rest) &&
           list[k + 1].first - list[k].first < period;
}

void compare(const std::string& name, const Edges& ours, const Edges& theirs, Compared& sum) {
    std::size_t k = 0, m = 0;
    while (k < ours.size() && m < theirs.size()) {
        if (ours[k].second == theirs[m].second && std::abs(ours[k].first - theirs[m].first) <= 20e-6) {
            sum.worst = std::max(sum.worst, std::abs(ours[k].first - theirs[m].first));
            ++sum.edges, ++k, ++m;
        } else if (isBySelf(ours, k) && ours[k].first < theirs[m].first) {  // the earlier of the two is the one that stands alone
            k += 2, ++sum.by_themselves;
        } else if (isBySelf(theirs, m)) {
            m += 2, ++sum.by_themselves;
        } else {
            ADD_FAILURE() << name << ", edge " << k << ": " << ours[k].second << " at " << ours[k].first << " s on one, "
                          << theirs[m].second << " at " << theirs[m].first << " s on the other";
            break;
        }
    }
    // What is cut off at the very end may be there on one of them only.
    EXPECT_LE(ours.size() - k + theirs.size() - m, 1U) << name;
}

class SecondChip : public testing::Test {
protected:
    void SetUp() override {
        if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
        if (!std::filesystem::exists(modules + "/avr8js"))
            GTEST_SKIP() << "avr8js is not there: ./check fetches it from the npm registry into the build folder";
    }
    // @return edges compared
    std::size_t agree(const project::Project& project, const std::vector<Press>& presses, double length) {
        const auto parts = test::shippedParts();
        const auto plan = plan::evaluate(project, parts);
        const auto sketch = plan::sketchOf(project, plan);
        EXPECT_TRUE(sketch) << (sketch ? "" : sentence(sketch.error()));
        if (!sketch) return 0;
        const auto& family = board::family(project.board.form);
        const auto built = emulator::build(*sketch, family, emulator::usualCache());
        EXPECT_TRUE(built && built->ok) << (built ? built->log : sentence(built.error()));
        const auto wiring = emulator::wiringOf(project, plan);
        if (!built || !built->ok || !wiring) return 0;
        const auto board = emulator::EmulatedBoard::start(built->elf, family, *wiring, *plan::plantsOf(project, parts, plan));
        EXPECT_TRUE(board);
        if (!board) return 0;
        // What the outside drives: every contact open, then as pressed. Times are the chip's own cycles.
        std::string script;
        const auto say = [&](std::size_t i, bool active) {
            const auto& input = wiring->inputs[i];
            if (input.pin && !input.analogue)
                script += fmt::format("{} {} {} {}\n", (*board)->chip().cycle(), input.pin->port, input.pin->bit,
                                      active == input.active_high ? 1 : 0);
        };
        for (std::size_t i = 0; i < wiring->inputs.size(); ++i) say(i, false);
        std::vector<std::tuple<double, std::size_t, bool>> changes;
        for (const auto& press : presses)
            changes.emplace_back(press.at, press.input, true), changes.emplace_back(press.at + press.lasts, press.input, false);
        std::sort(changes.begin(), changes.end());
        double now = 0.0;
        for (const auto& [at, input, active] : changes) {
            (*board)->advance(at - now);
            now = at;
            say(input, active);
            (*board)->setInput(static_cast<int>(input), active);
        }
        (*board)->advance(length - now);
        test::TemporaryFolder folder;
        std::filesystem::copy_file(HINGE_SOURCE_DIR "/tests/second_chip/run.mjs", folder.path() / "run.mjs");
        std::filesystem::create_directory_symlink(modules, folder.path() / "node_modules");
        std::ofstream(folder.path() / "script") << script;
        const auto in = folder.path().string();
        const auto ran = test::run(fmt::format("cd {} && avr-objcopy -O ihex {} program.hex && node run.mjs program.hex {} < script 2>&1",
                                               in, built->elf.string(), (*board)->chip().cycle()));
        EXPECT_EQ(ran.status, 0) << ran.out.substr(0, 2000);
        std::map<std::pair<char, int>, Edges> theirs;
        std::istringstream lines(ran.out);
        double cycle = 0.0;
        char port = 0;
        for (int bit = 0, level = 0; lines >> cycle >> port >> bit >> level;) theirs[{port, bit}].emplace_back(cycle / family.clock, level);
        Compared sum;
        for (std::size_t o = 0; o < wiring->outputs.size(); ++o) {
            auto& list = theirs[{wiring->outputs[o].port, wiring->outputs[o].bit}];
            // The rest level of a pin that is low while its load is on, set before anything else, is no edge of the load.
            if (wiring->inverted[o] && !list.empty() && list.front().second == 1 && list.front().first < 0.01) list.erase(list.begin());
            Edges ours;
            for (const auto& edge : (*board)->edges())
                if (edge.output == static_cast<int>(o)) ours.emplace_back(edge.time, wiring->inverted[o] ? 1 - edge.level : edge.level);
            compare(plan.program->outputs[o].name, ours, list, sum);
        }
        EXPECT_LE(sum.by_themselves, static_cast<int>(presses.size()));
        std::printf("%zu edges, worst %.2f us, %d pulses on one only\n", sum.edges, 1e6 * sum.worst, sum.by_themselves);
        return sum.edges;
    }
};

std::size_t inputOf(const project::Project& project, const std::string& id) {
    for (std::size_t i = 0; i < project.inputs.size(); ++i)
        if (project.inputs[i].id == id) return i;
    ADD_FAILURE() << id;
    return 0;
}

TEST_F(SecondChip, aPumpBehindAButton) {
    const auto project = test::demoProject();
    EXPECT_GT(agree(project, {{0.5, inputOf(project, "start"), 0.2}, {6.0, inputOf(project, "start"), 0.1}}, 8.0), 200U);
}
// Servo, stepper, fan at 25 kHz, lamps, pump and a gearmotor by its loop, all in one sketch.
TEST_F(SecondChip, theStage) {
    const auto project = test::exampleProject("paper-moon-stage");
    std::vector<Press> presses;
    double at = 0.5;
    for (const auto& input : project.inputs) {
        if (input.kind != project::InputKind::Button) continue;
        presses.push_back({at, inputOf(project, input.id), 0.15});
        at += 1.7;
    }
    EXPECT_GT(agree(project, presses, 9.0), 2000U);
}

}  // namespace
}  // namespace hinge
