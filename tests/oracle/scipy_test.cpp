// SciPy on the same problems, run by /usr/bin/python3; the scripts stand here.
#include "actuator/pump.hpp"
#include "actuator/pump_point.hpp"
#include "demand/pump_head.hpp"
#include "match/system_curve.hpp"
#include "plant/pump_plant.hpp"
#include "support/demo.hpp"
#include "support/oracles.hpp"
#include <cmath>
#include <fmt/format.h>

namespace hinge {
namespace {

using test::numbers;

class Scipy : public testing::Test {
protected:
    void SetUp() override {
        if (test::run("/usr/bin/python3 -c 'import scipy' 2> /dev/null").status != 0) GTEST_SKIP() << "python3-scipy is not installed: ./check installs it";
    }
};

TEST_F(Scipy, agreesOnColebrookWhite) {
    const auto f = numbers(R"(
from math import log10, sqrt
from scipy.optimize import brentq
for re in (4e3, 1e4, 1e5, 1e6, 1e7):
    for e in (0.0, 1e-5, 1e-3, 0.05):
        print(brentq(lambda f: 1/sqrt(f) + 2*log10(e/3.7 + 2.51/(re*sqrt(f))), 1e-4, 1.0, xtol=1e-15, rtol=1e-14))
)");
    ASSERT_EQ(f.size(), 20U);
    std::size_t i = 0;
    for (const double re : {4e3, 1e4, 1e5, 1e6, 1e7})
        for (const double e : {0.0, 1e-5, 1e-3, 0.05}) {
            EXPECT_NEAR(demand::frictionFactor(re, e), f[i], 1e-11 * f[i]) << re << ' ' << e;
            ++i;
        }
}

TEST_F(Scipy, agreesOnWherePumpAndTubeMeet) {
    const auto expected = numbers(R"(
from math import pi, sqrt, log10
from scipy.optimize import brentq
import numpy as np
rho, mu, g, D, L, K, lift, eps = 998.2, 1.002e-3, 9.80665, 0.006, 1.2, 3.0, 0.45, 1.5e-6
def cole(re): return brentq(lambda f: 1/sqrt(f) + 2*log10(eps/D/3.7 + 2.51/(re*sqrt(f))), 1e-4, 1.0, xtol=1e-15)
def head(q):
    if q <= 0: return lift
    v = q/(pi*D*D/4); re = rho*v*D/mu
    f = 64/re if re <= 2300 else cole(re) if re >= 4000 else 64/2300 + (cole(4000) - 64/2300)*(re - 2300)/1700
    return lift + (f*L/D + K)*v*v/2/g
q = np.array([0, .5, 1.0, 1.6])*1e-3/60; h = np.array([1.2, 1.05, .75, 0])
print(brentq(lambda x: np.interp(x, q, h) - head(x), 1e-9, q[-1], xtol=1e-16))
)");
    ASSERT_EQ(expected.size(), 1U);
    const auto demand = std::get<project::PumpDemand>(test::demoProject().channels.front().demand);
    const auto parts = test::shippedParts();
    const auto* pump = project::findPump(parts, "centrifugal_12v_small");
    const auto flow = match::crossing(demand, match::curveAt(*pump, 1.0));
    ASSERT_TRUE(flow);
    EXPECT_NEAR(*flow, expected.front(), 1e-9 * expected.front());
}

// Spin-up under a PWM ramp: the closed form of the peak against the differential equation.
TEST_F(Scipy, agreesOnThePeakOfASoftStart) {
    const auto expected = numbers(R"(
import numpy as np
from scipy.integrate import solve_ivp
Ir, Is, tau, ramp = 0.24, 0.70, 0.06, 0.1
u = lambda t: min(1.0, t/ramp)
s = solve_ivp(lambda t, n: (u(t) - n)/tau, (0, 0.5), [0.0], max_step=1e-4, rtol=1e-10, atol=1e-12)
i = [Ir*u(t) + (Is - Ir)*(u(t) - n) for t, n in zip(s.t, s.y[0])]
print(max(i))
)");
    actuator::SoftStart in;
    in.supply = of<Voltage>(12.0);
    in.running_current = of<Current>(0.24);
    in.stall_current = of<Current>(0.70);
    in.spin_up_time = of<Duration>(0.06);
    in.ramp = of<Duration>(0.1);
    const auto worked = actuator::softStart(in);
    ASSERT_TRUE(worked);
    EXPECT_NEAR(si(worked->result.peak_current), expected.front(), 1e-4) << "the integrator's step at the kink of the ramp";
}

// The plant's exact steps against an adaptive integrator, under a duty that jumps.
TEST_F(Scipy, agreesOnTheSpeedOfThePump) {
    const auto expected = numbers(R"(
import numpy as np
from scipy.integrate import solve_ivp
R, run, tau = 12/0.7, 0.24, 0.06
back = 12 - run*R
settled = lambda d: 0.0 if d == 0 else 2*d*12/(back + np.sqrt(back*back + 4*run*R*d*12))
duty = lambda t: 1.0 if t < 0.05 else 0.4 if t < 0.12 else 0.8
s = solve_ivp(lambda t, n: (settled(duty(t)) - n)/tau, (0, 0.2), [0.0], max_step=2e-5, rtol=1e-10, atol=1e-12)
print(s.y[0][-1])
)");
    plant::PumpFigures figures;
    figures.supply = 12.0;
    figures.resistance = 12.0 / 0.7;
    figures.running = 0.24;
    figures.nominal_back = 12.0 - 0.24 * 12.0 / 0.7;
    figures.spin_up = 0.06;
    figures.flow = {0.0, 1.0};
    plant::PumpPlant plant(figures);
    for (int ms = 0; ms < 200; ++ms) plant.step(1e-3, ms < 50 ? 1.0 : ms < 120 ? 0.4 : 0.8);
    EXPECT_NEAR(plant.speed(), expected.front(), 2e-5) << "the integrator's step at the jumps";
}

}  // namespace
}  // namespace hinge
