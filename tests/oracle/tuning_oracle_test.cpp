// The machines, the sampled loop and its margins, against SciPy on the same equations.
#include <fmt/format.h>
#include <cmath>
#include <numbers>
#include "control/closed_loop.hpp"
#include "control/margins.hpp"
#include "control/tuning_rules.hpp"
#include "support/oracles.hpp"

namespace hinge {
namespace {

using test::numbers;

class TuningScipy : public test::WithScipy {};

// Up at 60 %, down at 20 %, and free: once with a bridge that brakes, once with a diode that only lets it coast.
TEST_F(TuningScipy, agreesOnAMotorWithFriction) {
    for (const bool brakes : {true, false}) {
        const auto expected = numbers(fmt::format(R"(
import numpy as np
from scipy.integrate import solve_ivp
V, R, ke, kt, J, F, brakes = 12.0, 12.8, 1.34, 0.91, 0.0115, 0.06, {}
def run(w, share, times):
    def f(t, y):
        i = (share*V - ke*y[0])/R
        if not brakes: i = max(0.0, i)
        return [(kt*i - F)/J, y[0]]
    rest = lambda t, y: y[0]
    rest.terminal = True
    rest.direction = -1
    s = solve_ivp(f, (0, times[-1]), w, t_eval=times, events=rest, rtol=1e-11, atol=1e-12, max_step=1e-3)
    out = [[s.y[0][k], s.y[1][k]] if k < len(s.t) else [0.0, s.y_events[0][0][1]] for k in range(len(times))]
    for o in out: print(o[0], o[1])
    return out[-1]
w = run([0.0, 0.0], 0.6, [0.05, 0.2, 0.4])
w = run(w, 0.2, [0.03, 0.1, 0.3])
run(w, 0.0, [0.01, 0.05, 0.6])
)",
                                                  brakes ? "True" : "False"));
        ASSERT_EQ(expected.size(), 18U);
        plant::RotorFigures figures{12.0, 12.8, 1.34, 0.91, 0.0115, 0.06, 0.08, 0.0, brakes};
        plant::Rotor rotor{figures};
        std::size_t k = 0;
        for (const auto& [share, times] :
             {std::pair{0.6, std::array{0.05, 0.2, 0.4}}, {0.2, std::array{0.03, 0.1, 0.3}}, {0.0, std::array{0.01, 0.05, 0.6}}}) {
            double before = 0.0;
            for (const double time : times) {
                // One long step: exact, whatever its length.
                rotor.step(time - before, share);
                before = time;
                EXPECT_NEAR(rotor.speed(), expected[k], 2e-6) << brakes << ' ' << share << ' ' << time;
                EXPECT_NEAR(rotor.angle(), expected[k + 1], 2e-6) << brakes << ' ' << share << ' ' << time;
                k += 2;
            }
        }
    }
}

TEST_F(TuningScipy, agreesOnAWarmedBoxAndItsThermometer) {
    const auto expected = numbers(R"(
import numpy as np
from scipy.signal import lsim, StateSpace
C, G, P, Ta, lag, Dm = 3300.0, 0.9, 40.0, 295.0, 40.0, 0.0
A = [[-G/C, 0], [1/lag, -1/lag]]
s = StateSpace(A, [[P/C], [0]], np.eye(2), np.zeros((2, 1)))
t = np.arange(0, 3001, 1.0)
u = np.where(t < 1200, 1.0, 0.25)
_, y, x = lsim(s, u, t, interp=False)
for k in (100, 600, 1200, 1300, 3000): print(y[k][0] + Ta, y[k][1] + Ta)
)");
    ASSERT_EQ(expected.size(), 10U);
    plant::BoxFigures figures;
    figures.capacity = 3300.0, figures.conductance = 0.9, figures.power = 40.0, figures.ambient = 295.0, figures.sensor_lag = 40.0;
    plant::BoxPlant box{figures};
    std::size_t k = 0;
    double now = 0.0;
    for (const double until : {100.0, 600.0, 1200.0, 1300.0, 3000.0}) {
        box.step(until - now, now < 1200.0 ? 1.0 : 0.25);
        now = until;
        EXPECT_NEAR(box.temperature(), expected[k], 1e-8);
        EXPECT_NEAR(box.shown(), expected[k + 1], 1e-8);
        k += 2;
    }
}

TEST_F(TuningScipy, agreesOnATankThatRunsOut) {
    const auto expected = numbers(R"(
from math import sqrt
from scipy.integrate import solve_ivp
A, q, k = 0.004, 2e-5, 3e-5
s = solve_ivp(lambda t, h: [(q*0.7 - k*sqrt(max(h[0], 0)))/A], (0, 300), [0.05], t_eval=[5, 50, 300], rtol=1e-11, atol=1e-14)
for h in s.y[0]: print(h)
)");
    ASSERT_EQ(expected.size(), 3U);
    plant::TankFigures figures{0.004, 0.3, 2e-5, 3e-5, 0.05};
    plant::TankPlant tank{figures};
    int ms = 0;
    for (std::size_t k = 0; k < 3; ++k) {
        for (; ms < std::array{5000, 50'000, 300'000}[k]; ++ms) tank.step(1e-3, 0.7);
        EXPECT_NEAR(tank.level(), expected[k], 1e-9);
    }
}

// A rotor pulled along at a rate it can follow, then at one it cannot: where it ends, and by how many turns of the field it is behind.
TEST_F(TuningScipy, agreesOnAStepperThatLosesSteps) {
    for (const double rate : {12.0, 160.0}) {
        const auto expected = numbers(fmt::format(R"(
from math import sin, pi
from scipy.integrate import solve_ivp
T0, p, J, D, load, w = 0.25, 50.0, 2e-5, 6e-4, 0.03, {}
def f(t, y):
    field = w*min(t, 0.2)
    return [y[1], (T0*sin(p*(field - y[0])) - D*y[1] - load*max(-1.0, min(1.0, y[1]/0.5)))/J]
s = solve_ivp(f, (0, 0.6), [0.0, 0.0], t_eval=[0.02, 0.1, 0.6], method='LSODA', rtol=1e-10, atol=1e-12, max_step=2e-5)
for k in range(3): print(s.y[0][k])
)",
                                                  rate));
        ASSERT_EQ(expected.size(), 3U);
        plant::StepAxisFigures figures;
        figures.inertia = 2e-5, figures.damping = 6e-4, figures.load = 0.03, figures.torque = {0.25};
        plant::StepAxis axis{figures};
        axis.standAt(0.0);
        const double places_per_rad = figures.places_per_turn / (2.0 * std::numbers::pi);
        std::size_t k = 0;
        for (int ms = 1; ms <= 600; ++ms) {
            axis.step(1e-3, rate * std::min(ms * 1e-3, 0.2) * places_per_rad);
            if (ms == 20 || ms == 100 || ms == 600) {
                // Fourth order at 50 µs; a slipping rotor is tossed about, so the lost turns must agree, not the last digit on the way.
                const double tolerance = rate < 100.0 ? 2e-6 : ms == 20 ? 1e-3 : 0.13;
                EXPECT_NEAR(axis.angle(), expected[k++], tolerance) << rate << ' ' << ms;
            }
        }
        EXPECT_EQ(axis.lost() != 0.0, rate > 100.0);
        EXPECT_NEAR(std::fmod(std::abs(axis.lost()), 64.0), 0.0, 1e-9) << "four full steps of sixteen micro-steps at a time";
    }
}

// The wheels speed up evenly under the body: the plain equation with its acceleration, against the plant that is told places.
TEST_F(TuningScipy, agreesOnABodyThatFalls) {
    const auto expected = numbers(R"(
from math import sin, cos
from scipy.integrate import solve_ivp
g, h, a = 9.80665, 0.09, 0.4
s = solve_ivp(lambda t, y: [y[1], (g*sin(y[0]) - a*cos(y[0]))/h], (0, 0.3), [0.05, 0.0], t_eval=[0.1, 0.2, 0.3], rtol=1e-11, atol=1e-13)
for y in s.y[0]: print(y)
)");
    ASSERT_EQ(expected.size(), 3U);
    plant::Balancer body{plant::BalancerFigures{0.09, 1e-4, 0.05, 0.7}};
    body.step(0.0, 0.0);
    std::size_t k = 0;
    for (int tenth = 1; tenth <= 3000; ++tenth) {
        const double t = tenth * 1e-4;
        body.step(1e-4, 0.5 * 0.4 * t * t / 1e-4);
        // Places come once a step: the speed is the mean over it, half a step late; 20 µm/s of 0.09 m.
        if (tenth % 1000 == 0) EXPECT_NEAR(body.lean(), expected[k++], 6e-4);
    }
}

TEST_F(TuningScipy, agreesOnTheLoopsGainAndMargins) {
    // First order with dead time that is no whole number of periods; a motor whose tach is counted; a body that falls.
    struct Case {
        const char* name;
        control::LinearPlant plant;
        control::PidFigures pid;
        const char* model;  // A, B, C, delay, counted
    };
    control::LinearPlant motor = control::firstOrder(14.0, 0.12, 0.0), fall;
    motor.counted = true;
    fall.a = Eigen::Matrix2d{{0.0, 9.80665}, {1.0 / 0.09, 0.0}};
    fall.b = Eigen::Vector2d{0.0, -1.57e-4 / 0.09};
    fall.c = Eigen::RowVector2d{0.0, -974.0};
    control::PidFigures slow, quick, stands;
    slow.gains = {0.8, 0.5, 0.1}, slow.period = 0.1, slow.smoothing = 0.5;
    quick.gains = {0.4, 2.0, 0.002}, quick.period = 0.06;
    stands.gains = {20.0, 250.0, 0.05}, stands.period = 0.004;
    const std::array cases{Case{"late", control::firstOrder(2.0, 1.5, 0.37), slow, "[[-1/1.5]], [[2/1.5]], [[1.0]], 0.37, False"},
                           Case{"motor", motor, quick, "[[-1/0.12]], [[14/0.12]], [[1.0]], 0.0, True"},
                           Case{"falls", fall, stands, "[[0, 9.80665], [1/0.09, 0]], [[0], [-1.57e-4/0.09]], [[0, -974.0]], 0.0, False"}};
    for (const auto& each : cases) {
        // SciPy: the plant alone by cont2discrete on a grid of a hundredth of a period, sampled by hand; then the frequency response as a
        // sum.
        const auto expected = numbers(fmt::format(R"(
import numpy as np
from scipy.signal import cont2discrete
from scipy.linalg import expm
from scipy.optimize import brentq
A, B, C, delay, counted = {}
A, B, C = np.array(A, float), np.array(B, float), np.array(C, float)
P, I, D, h, al = {}, {}, {}, {}, {}
N = 100
n = len(A)
if counted:
    A = np.block([[A, np.zeros((n, 1))], [C, np.zeros((1, 1))]]); B = np.vstack([B, [[0]]]); C = np.array([[0]*n + [1.0]])
Ad, Bd, _, _, _ = cont2discrete((A, B, C, np.zeros((1, 1))), h/N)
k = int(round(delay/h*N)); assert abs(k*h/N - delay) < 1e-12
# N fine steps make one period; the drive changes k of them late.
Af = np.linalg.matrix_power(Ad, N)
def L(w):
    z = np.exp(1j*w*h)
    total = np.zeros((len(A), 1), complex)
    for m in range(N):
        u = z**(np.floor((m - k)/N))
        total = Ad @ total + Bd*u
    x = np.linalg.solve(z*np.eye(len(A)) - Af, total)
    y = (C @ x)[0, 0]
    if counted: y *= 1 - 1/z
    c = P + I*h/(1 - 1/z) + D/h*al/(1 - (1 - al)/z)*(1 - 1/z)
    return y*c
for w in (0.3, 2.0, 0.6*np.pi/h):
    g = L(w); print(g.real, g.imag)
ws = np.geomspace(1e-3*np.pi/h, 0.9999*np.pi/h, 4000)
m = np.abs([L(w) for w in ws])
cross = [brentq(lambda w: abs(L(w)) - 1, ws[i], ws[i + 1], xtol=1e-12) for i in range(len(ws) - 1) if (m[i] - 1)*(m[i + 1] - 1) < 0]
print(cross[-1]); print(min(abs(np.angle(-L(w))) for w in cross))
)",
                                                  each.model, each.pid.gains.proportional, each.pid.gains.integral,
                                                  each.pid.gains.derivative, each.pid.period, each.pid.smoothing));
        ASSERT_EQ(expected.size(), 8U) << each.name;
        std::size_t k = 0;
        for (const double w : {0.3, 2.0, 0.6 * std::numbers::pi / each.pid.period}) {
            const auto gain = control::loopGain(each.plant, each.pid, w);
            EXPECT_NEAR(gain.real(), expected[k], 1e-8 * std::abs(gain)) << each.name << ' ' << w;
            EXPECT_NEAR(gain.imag(), expected[k + 1], 1e-8 * std::abs(gain)) << each.name << ' ' << w;
            k += 2;
        }
        const auto margins = control::margins(each.plant, each.pid);
        ASSERT_TRUE(margins.crossover && margins.phase) << each.name;
        EXPECT_NEAR(*margins.crossover, expected[6], 1e-6 * expected[6]) << each.name;
        EXPECT_NEAR(*margins.phase, expected[7], 1e-6) << each.name;
    }
}

// P alone on a first order with dead time: the gain at which it rings for ever, from SciPy's root of the phase.
TEST_F(TuningScipy, agreesOnWhereALoopBeginsToRingForEver) {
    const auto expected = numbers(R"(
import numpy as np
from scipy.optimize import brentq
K, T, L, h = 2.0, 1.0, 0.5, 0.01
a = np.exp(-h/T); d = int(round(L/h))
g = lambda w: K*(1 - a)/(np.exp(1j*w*h) - a)*np.exp(-1j*w*h*d)
w = brentq(lambda w: np.angle(-g(w)), 2.0, 5.0)
print(1/abs(g(w)))
)");
    ASSERT_EQ(expected.size(), 1U);
    const auto plant = control::firstOrder(2.0, 1.0, 0.5);
    control::PidFigures pid;
    pid.period = 0.01;
    pid.gains.proportional = expected.front() * 0.999;
    EXPECT_TRUE(control::margins(plant, pid).stable);
    EXPECT_NEAR(*control::margins(plant, pid).gain, 1.0 / 0.999, 1e-5);
    pid.gains.proportional = expected.front() * 1.001;
    EXPECT_FALSE(control::margins(plant, pid).stable);
}

// A loop's model and gains, and it prints by how much all gains may grow and shrink, and the longest period.
constexpr const char* loop_edges = R"(
import numpy as np
from scipy.linalg import expm
{}
rolls = n0 == 2
kp, ki, kd, h0, al, lr, lw = {}, {}, {}, {}, {}, {}, {}
n = len(A)
def rho(k, h):
    M = np.zeros((n + 1, n + 1)); M[:n, :n] = A*h; M[:n, n:] = B*h
    E = expm(M); F, G = E[:n, :n], E[:n, n:]
    # x, drive before, last reading, smoothed change, sum of errors, sum of drives
    S = n + 5
    T = np.zeros((S, S))
    for j in range(S):
        v = np.zeros(S); v[j] = 1.0
        x, u0, y0, d0, se, su = v[:n], v[n], v[n + 1], v[n + 2], v[n + 3], v[n + 4]
        y = float((C @ x)[0]); e = lr*u0 + lw*su - y
        se = se + e*h; d = d0 + al*((y - y0) - d0)
        u = k*(kp*e + ki*se - kd*d/h)
        T[:, j] = np.concatenate([F @ x + G[:, 0]*u, [u, y, d, se, su + u*h]])
    if ki == 0: T = np.delete(np.delete(T, n + 3, 0), n + 3, 1)
    if lw == 0: T = T[:-1, :-1]
    p = np.linalg.eigvals(T)
    if rolls and lr == 0 and lw == 0: p = np.delete(p, np.argmin(abs(p - 1)))  # rolling on evenly is standing
    return max(abs(p))
def edge(f, a, b):
    for _ in range(60):
        m = (a*b)**0.5
        if (f(m) < 1) == (f(a) < 1): a = m
        else: b = m
    return b
assert rho(1.0, h0) < 1, rho(1.0, h0)
def out(f, step, most):
    k = 1.0
    while f(k) < 1:
        if not (1/most < k < most): return -1.0
        k *= step
    return edge(f, k/step, k)
print(out(lambda k: rho(k, h0), 1.002, 1e4)); print(out(lambda k: rho(k, h0), 1/1.002, 1e4)); print(h0*out(lambda q: rho(1.0, h0*q), 1.002, 100))
)";

// What balances, and a loop with a sum: how far all gains may grow and shrink before a pole of the whole sampled loop leaves the unit
// circle, against NumPy's poles of the same loop written out block by block; and the longest period likewise.
TEST_F(TuningScipy, agreesOnHowFarAllGainsMayGrowAndShrink) {
    struct Case {
        std::string name, model;
        control::LinearPlant plant;
        control::PidFigures pid;
    };
    plant::BalancerFigures figures;
    figures.height = 0.08;
    figures.distance_per_step = 6.5e-5;
    plant::Coupling body;
    body.machine = plant::Balancer{figures};
    body.sense.per_unit = 600.0;
    const auto straight = control::straightened(body, 0.0);
    ASSERT_TRUE(straight);
    std::vector<Case> cases;
    control::PidFigures upright;
    upright.period = 0.005;
    upright.gains = {-60.0, -900.0, -0.3};
    cases.push_back({"body",
                     "A = np.array([[0, 9.80665], [1/0.08, 0]]); B = np.array([[0.], [-6.5e-5/0.08]]); C = np.array([[0, 600.]]); n0 = 2",
                     *straight, upright});
    upright.lean_rate = -0.004;
    upright.lean_way = -0.001;
    cases.push_back({"body that comes home", cases.front().model, *straight, upright});
    control::PidFigures level;
    level.period = 0.2;
    level.gains = {0.004, 0.001, 0.0};
    auto tank = control::LinearPlant{Eigen::MatrixXd::Zero(1, 1), Eigen::VectorXd::Constant(1, 30.0), Eigen::RowVectorXd::Constant(1, 1.0)};
    cases.push_back({"level that nothing drains", "A = np.zeros((1, 1)); B = np.array([[30.]]); C = np.eye(1); n0 = 1", tank, level});
    level.gains = {0.0, 0.001, 0.0};
    cases.push_back({"a sum alone", "A = np.array([[-1/3.]]); B = np.array([[200/3.]]); C = np.eye(1); n0 = 1",
                     control::firstOrder(200.0, 3.0, 0.0), level});
    for (const auto& each : cases) {
        const auto expected =
            numbers(fmt::format(fmt::runtime(loop_edges), each.model, each.pid.gains.proportional, each.pid.gains.integral,
                                each.pid.gains.derivative, each.pid.period, each.pid.smoothing, each.pid.lean_rate, each.pid.lean_way));
        ASSERT_EQ(expected.size(), 3U) << each.name;
        const auto margins = control::margins(each.plant, each.pid);
        EXPECT_TRUE(margins.stable) << each.name;
        const auto near = [&](const std::optional<double>& ours, double theirs, double within, const char* what) {
            ASSERT_EQ(ours.has_value(), theirs > 0.0) << each.name << ", " << what << ": " << theirs;
            if (ours) EXPECT_NEAR(*ours, theirs, within * theirs) << each.name << ", " << what;
        };
        near(margins.gain, expected[0], 1e-4, "may grow");
        near(margins.least_gain, expected[1], 1e-4, "may shrink");
        if (expected[2] > 0.0) near(control::longestStablePeriod(each.plant, each.pid), expected[2], 0.015, "longest period");
    }
}

// The whole loop: a first order read in whole counts, PID with smoothing, limits and dead band, against a plain loop in Python.
TEST_F(TuningScipy, agreesOnAWholeLoop) {
    const auto expected = numbers(R"(
import numpy as np
from scipy.signal import cont2discrete
C, G, P, Ta, lag = 50.0, 2.0, 60.0, 290.0, 0.5
A = np.array([[-G/C, 0], [1/lag, -1/lag]]); B = np.array([[P/C], [0]])
Ad, Bd, _, _, _ = cont2discrete((A, B, np.eye(2), np.zeros((2, 1))), 1e-3)
kp, ki, kd, h, al, least, most, band = 0.02, 0.01, 0.004, 0.05, 0.4, 0.05, 0.9, 1.0
x = np.zeros((2, 1)); u = s = dm = 0.0; last = None; told = None
for t in range(1, 20001):
    if t % 50 == 0:
        y = told; wanted = 300.0 if t >= 200 else 100.0
        e = wanted - y
        if abs(e) <= band: e = 0.0
        dy = 0.0 if last is None else y - last
        last = y; dm += al*(dy - dm)
        s = min(max(s + ki*h*e, 0.0), most)
        u = min(max(kp*e + s - kd/h*dm, least), most)
        if t % 2000 == 0: print(y, u)
    x = Ad @ x + Bd*u
    told = np.floor(100 + 20*x[1, 0] + 0.5)
)");
    ASSERT_EQ(expected.size(), 20U);
    control::LoopSetup setup;
    plant::BoxFigures figures;
    figures.capacity = 50.0, figures.conductance = 2.0, figures.power = 60.0, figures.ambient = 290.0, figures.sensor_lag = 0.5;
    setup.machine.machine = plant::BoxPlant{figures};
    setup.machine.sense.per_unit = 20.0;
    setup.machine.sense.zero = 100.0 - 20.0 * 290.0;
    setup.pid.gains = {0.02, 0.01, 0.004};
    setup.pid.period = 0.05, setup.pid.smoothing = 0.4, setup.pid.least = 0.05, setup.pid.most = 0.9, setup.pid.band = 1.0;
    setup.before = 100.0, setup.wanted = 300.0, setup.step_at = 0.2, setup.length = 20.0;
    const auto run = control::runLoop(setup);
    std::size_t k = 0;
    for (const auto& row : run.rows) {
        if (std::lround(row.time * 1000.0) % 2000 != 0) continue;
        ASSERT_LT(k + 1, expected.size());
        // A reading that lies on the edge of a count may fall to either side: one count, and what it does to the drive.
        EXPECT_NEAR(row.reading, expected[k], 1.0) << row.time;
        EXPECT_NEAR(row.drive, expected[k + 1], 0.02 + 0.08 * 0.4 + 1e-3) << row.time;
        k += 2;
    }
    EXPECT_EQ(k, expected.size());
}

// Relay experiment on a first order with dead time: amplitude and period in closed form, and the gain it leads to against the true one.
TEST_F(TuningScipy, agreesOnARelayExperiment) {
    const double K = 2000.0, T = 1.0, L = 0.4, d = 0.1;
    const auto expected = numbers(R"(
import numpy as np
from scipy.optimize import brentq
K, T, L = 2000.0, 1.0, 0.4
w = brentq(lambda w: np.pi - np.arctan(w*T) - w*L, 1.0, 8.0)
print(np.sqrt(1 + (w*T)**2)/K, 2*np.pi/w)
)");
    ASSERT_EQ(expected.size(), 2U);
    control::LoopSetup setup;
    plant::BoxFigures box;
    box.capacity = T, box.conductance = 1.0, box.power = 1.0, box.ambient = 290.0, box.sensor_lag = 1e-4;
    setup.machine.machine = plant::BoxPlant{box};
    setup.machine.sense.per_unit = K;
    setup.machine.sense.zero = 500.0 - K * 290.5;
    setup.machine.sense.delay = L;
    setup.pid.period = 1e-3, setup.pid.least = 0.0, setup.pid.most = 1.0;
    setup.before = setup.wanted = 500.0;
    setup.length = 30.0;
    const auto reading = control::readRelay(control::runRelay(setup, 0.5, d, 0.0).rows);
    ASSERT_TRUE(reading);
    // Between two switchings the plant goes straight at ±Kd by an exponential; it turns L after the crossing.
    const double amplitude = K * d * (1.0 - std::exp(-L / T)), period = 2.0 * T * std::log(2.0 * std::exp(L / T) - 1.0);
    EXPECT_NEAR(reading->amplitude, amplitude, 1.0 + 0.01 * amplitude) << "to a count";
    EXPECT_NEAR(reading->period, period, 0.015 * period) << "a count and a tick late";
    control::RelayTune in;
    in.output_amplitude = of<Ratio>(d), in.response_amplitude = of<Ratio>(reading->amplitude), in.period = of<Duration>(reading->period);
    const auto tuned = control::relayTune(in);
    ASSERT_TRUE(tuned);
    // Åström and Hägglund 1984 take the first harmonic only; for a lag with dead time that is some 10 to 20 % low.
    EXPECT_GT(si(tuned->result.ultimate_gain), 0.75 * expected[0]);
    EXPECT_LT(si(tuned->result.ultimate_gain), 1.02 * expected[0]);
    EXPECT_NEAR(reading->period, expected[1], 0.12 * expected[1]);
}

}  // namespace
}  // namespace hinge
