#include "emulator/driven_board.hpp"

namespace hinge {
namespace {

using namespace driven;

// memory). Power within a hundredth of the wish, as many half-waves up as down: no direct current.
TEST_F(DrivenBoard, aHeaterOnAZeroCrossingRelayGetsWholeCycles) {
    for (const auto& [hertz, percent] : {std::pair{50, 6}, {50, 62}, {60, 30}, {60, 94}}) {
        SCOPED_TRACE(fmt::format("{} % at {} Hz", percent, hertz));
        const auto project =
            test::edited(test::alone(ChannelKind::Heat, "mat_230v_40w", "ssr_zero_2a", {{"channels/it/demand/feeding", "mains"}}),
                         {{"channels/it/demand/mains_frequency", fmt::format("{} Hz", hertz)},
                          {"channels/it/signal/duty", fmt::format("{} %", percent)},
                          {"routine/cues/run_it/moves/runs/time", "60 s"}});
        const auto plan = plan::evaluate(project, parts_);
        ASSERT_EQ(plan.channels.front().not_driven, "");
        ASSERT_TRUE(plan.channels.front().mains);
        const auto& pattern = plan.channels.front().mains->pattern;
        const auto board = boardOf(project, plan, parts_);
        ASSERT_TRUE(board);
        board->advance(0.2);
        board->setInput(0, true);
        board->advance(0.3);
        board->setInput(0, false);
        const double length = 10.2;
        board->advance(length);
        std::vector<std::pair<double, bool>> pin{{0.0, false}};
        for (const auto& edge : board->edges())
            if (edge.output == 0) pin.emplace_back(edge.time, edge.level == 1);
        const auto at = [&](double time) {
            const auto after = std::upper_bound(pin.begin(), pin.end(), time, [](double t, const auto& edge) { return t < edge.first; });
            return std::prev(after)->second;
        };
        ASSERT_GT(pin.size(), 3U);
        // It begins with the pattern's first cycle; the first that is on is known by its edge.
        const auto first = pattern.find('1');
        ASSERT_NE(first, std::string::npos);
        const double cycle = 1.0 / hertz, begins = pin[1].first - static_cast<double>(first) * cycle;
        for (std::size_t k = 0; k < pattern.size(); ++k)
            ASSERT_EQ(at(begins + (static_cast<double>(k) + 0.5) * cycle), pattern[k] == '1') << "cycle " << k;
        for (const double phase : {0.13, 0.5, 0.87}) {
            int up = 0, down = 0, crossings = 0;
            for (int k = 0; begins + (k + phase) * cycle / 2.0 < begins + 10.0; ++k, ++crossings)
                if (at(begins + (k + phase) * cycle / 2.0)) ++(k % 2 == 0 ? up : down);
            EXPECT_NEAR(static_cast<double>(up + down) / crossings, percent / 100.0, 0.01);
            EXPECT_LE(std::abs(up - down), 1);
        }
    }
}
// And its power may be what a loop makes of a reading.
TEST_F(DrivenBoard, aLoopHoldsAHeaterOnAZeroCrossingRelay) {
    auto project = test::exampleProject("proofing-box");
    project.routine.followers.clear();
    routine::Loop loop;
    loop.id = "warmth", loop.channel = "heater", loop.input = "warm_enough";
    loop.wanted = of<Count>(560.0), loop.proportional = of<Ratio>(8.0), loop.period = of<Duration>(0.5), loop.most = of<Count>(1000.0);
    project.routine.loops.push_back(loop);
    routine::Cue warm;
    warm.id = "warms", warm.name = "Warms", warm.input = "start";
    warm.moves.push_back({"on", routine::Action::On, "heater", std::nullopt});
    project.routine.cues = {warm};
    const auto plan = plan::evaluate(project, parts_);
    ASSERT_TRUE(plan.program) << sentence(*plan.program_error);
    ASSERT_EQ(plan::findChannel(plan, "heater")->not_driven, "");
    EXPECT_EQ(plan::findChannel(plan, "heater")->signal, plan::SignalKind::WholeCycles);
    auto both = test::bothOf(project);
    ASSERT_TRUE(both.board);
    for (auto* one : both.all)
        one->setReading(2, 520), one->advance(0.5), one->setInput(0, true), one->advance(0.3), one->setInput(0, false), one->advance(1.0);
    std::vector<double> means;
    for (auto* one : both.all) {
        double sum = 0.0;
        for (int k = 0; k < 5000; ++k) one->advance(0.001), sum += one->observe().duty.front() / 5000.0;
        means.push_back(sum);
    }
    // 8 permille for each of the 40 counts that are missing.
    for (const double mean : means) EXPECT_NEAR(mean, 0.320, 0.005);
}

// The matrix of parts, drivers and boards: of what is driven, each class of driver with each kind of signal has its edges on the
// emulated chip, as the interpreter has them, and none before it is asked.
TEST_F(DrivenBoard, whatTheMatrixCallsDrivenHasItsEdges) {
    std::set<std::string> seen;
    for (const auto& [what, driver, project] : test::matrix(parts_, {"atmega328p-16mhz", "atmega2560-16mhz"})) {
        const auto plan = plan::evaluate(project, parts_);
        const auto& it = plan.channels.front();
        if (!plan::isDriven(it) || !plan::sketchOf(project, plan)) continue;
        const auto key = fmt::format("{} {} {} {}", static_cast<int>(project.board.form), static_cast<int>(driver),
                                     static_cast<int>(it.signal), it.inverted);
        if (!seen.insert(key).second) continue;
        auto both = test::bothOf(project);
        ASSERT_TRUE(both.board) << what;
        const bool placed = plan::isPlaced(it);
        // A stepper is waited for until it is back.
        const int length = it.signal == plan::SignalKind::Steps ? 6000 : 2500;
        std::vector<double> means;
        for (auto* one : both.all) {
            one->advance(0.5);
            double sum = 0.0;
            const auto count = [&] {
                long rises = 0;
                for (const auto& edge : one->edges()) rises += edge.output == 0 && edge.level == 1 ? 1 : 0;
                return rises;
            };
            if (one == both.board.get()) EXPECT_EQ(count(), 0) << what << ": nothing before it is asked";
            one->setInput(0, true);
            one->advance(0.2);
            one->setInput(0, false);
            for (int k = 0; k < length; ++k) one->advance(0.001), sum += one->observe().duty.front() / length;
            means.push_back(sum);
            if (one != both.board.get()) continue;
            const long rises = count();
            EXPECT_GT(rises, 0) << what;
            // There and back, by hand: every step of the move twice; a pulse every 20 ms while the servo has a place.
            if (it.signal == plan::SignalKind::Steps) EXPECT_EQ(rises, 2 * std::lround(si(*it.motion.steps))) << what;
            if (it.signal == plan::SignalKind::ServoPulse)
                EXPECT_NEAR(static_cast<double>(rises), (0.2 + length / 1000.0) / 0.020, 4.0) << what;
        }
        ASSERT_EQ(means.size(), 2U);
        if (!placed) {
            EXPECT_GT(means[0], 0.0) << what;
            EXPECT_NEAR(means[0], means[1], 0.01 + 0.02 * means[0]) << what << ": the same drive on interpreter and board";
        }
    }
    EXPECT_GT(seen.size(), 12U);
    RecordProperty("cases", static_cast<int>(seen.size()));
}
// The same classes, asked for the verbs that the plan does not refuse: started over the link one after the other, edges and drive are
// the interpreter's. The first of each kind of signal is asked for every verb on the smaller board, and for three on the larger one;
// the other classes have had their edges above.
TEST_F(DrivenBoard, everyVerbOfTheMatrixHasItsEdges) {
    const auto verbs = test::verbs();
    std::set<std::string> seen;
    std::set<plan::SignalKind> signals, signals_of_mega;
    int played = 0;
    for (const auto& [what, driver, project] : test::matrix(parts_, {"atmega328p-16mhz", "atmega2560-16mhz"})) {
        const auto first = plan::evaluate(project, parts_);
        if (!plan::isDriven(first.channels.front()) || !plan::sketchOf(project, first)) continue;
        // A class whose shares are asked for has PWM, another only switches: both are looked at.
        auto able = project;
        able.routine.cues.clear();
        std::vector<std::string> names;
        for (std::size_t v = 0; v < verbs.size(); ++v) {
            auto more = test::withVerb(able, verbs[v], v);
            const auto plan = plan::evaluate(more, parts_);
            if (plan::sketchOf(more, plan)) able = std::move(more), names.push_back(verbs[v].name);
        }
        const auto plan = plan::evaluate(able, parts_);
        const auto& it = plan.channels.front();
        const bool mega = project.board.form == board::BoardForm::Mega16, leads = !mega && signals.insert(it.signal).second;
        if (names.empty() || (mega ? !signals_of_mega.insert(it.signal).second : !leads)) continue;
        if (!seen.insert(fmt::format("{} {} {} {}", mega, static_cast<int>(driver), static_cast<int>(it.signal), it.inverted)).second)
            continue;
        auto both = test::bothOf(able);
        ASSERT_TRUE(both.board) << what;
        // Steps: at the pin, and as the interpreter's place changes.
        std::int32_t place = 0;
        const auto stepsOf = [&](const plant::StandIn& one) {
            if (&one == both.board.get())
                return static_cast<long>(
                    std::count_if(one.edges().begin(), one.edges().end(), [](const auto& e) { return e.output == 0 && e.level == 1; }));
            const auto now = both.interpreter->state().output(0).level;
            return static_cast<long>(std::abs(now - std::exchange(place, now)));
        };
        for (auto* one : both.all) one->setInput(0, true), one->advance(0.1);
        // A stepper is looked for first: its switch is closed, so that it is found where it stands.
        std::vector<std::size_t> order;
        for (std::size_t v = 0; v < names.size(); ++v)
            if (names[v] == "home") order.insert(order.begin(), v);
            else if (leads || order.size() < 3) order.push_back(v);
        for (const auto v : order) {
            SCOPED_TRACE(what + ", " + names[v]);
            ++played;
            std::vector<double> means;
            std::vector<long> steps;
            for (auto* one : both.all) {
                long count = one == both.board.get() ? -stepsOf(*one) : 0;
                if (one != both.board.get()) (void)stepsOf(*one);
                double sum = 0.0;
                one->write(link::encode(link::StartCue{static_cast<int>(v)}) + "\n");
                for (int k = 0; k < 2200; ++k) {
                    one->advance(0.001);
                    sum += one->observe().duty.front() / 2200.0;
                    if (one != both.board.get()) count += stepsOf(*one);
                }
                if (one == both.board.get()) count += stepsOf(*one);
                one->write("stop\n");
                one->advance(0.1);
                if (one == both.all.back())
                    for (auto* each : both.all) each->setInput(0, false), each->advance(0.05);
                means.push_back(sum);
                steps.push_back(count);
            }
            ASSERT_EQ(means.size(), 2U);
            if (it.signal == plan::SignalKind::Steps) {
                EXPECT_NEAR(static_cast<double>(steps[1]), static_cast<double>(steps[0]), 2.0);
                EXPECT_EQ(steps[1] > 0, names[v] != "home") << "it is found where it stands";
            } else if (!plan::isPlaced(it)) {
                EXPECT_NEAR(means[0], means[1], 0.01 + 0.02 * means[0]);
                EXPECT_GT(means[0], 0.0);
            } else {
                EXPECT_GT(steps[1], 0) << "pulses while it has a place";
            }
        }
    }
    EXPECT_EQ(signals.size(), 7U)
        << "switched, PWM, a fan's wire, a servo's pulse, steps, whole cycles and parts of half-waves of the mains";
    EXPECT_GT(played, 35);
    std::printf("%d verbs played on %zu kinds of drive\n", played, seen.size());
}

}  // namespace
}  // namespace hinge
