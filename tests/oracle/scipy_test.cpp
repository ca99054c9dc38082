// SciPy on the same problems, run by /usr/bin/python3; the scripts stand here.
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "actuator/pump.hpp"
#include "actuator/pump_point.hpp"
#include "board/assign.hpp"
#include "demand/mechanical_fit.hpp"
#include "demand/pump_head.hpp"
#include "journal/bag.hpp"
#include "kinds/system_curve.hpp"
#include "plant/pump_plant.hpp"
#include "power/box_heat.hpp"
#include "support/demo.hpp"
#include "support/oracles.hpp"

namespace hinge {
namespace {

using test::numbers;

class Scipy : public test::WithScipy {};

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

// Forty-odd lines on a board of seventy pins, without pulses: the cheapest assignment is that of linear_sum_assignment.
TEST_F(Scipy, agreesOnTheCheapestPins) {
    const auto& family = board::family(board::BoardForm::Mega16);
    const board::PinRules rules;
    std::vector<board::PinWish> wishes;
    for (int i = 0; i < 46; ++i) {
        board::PinWish wish;
        wish.id = wish.name = fmt::format("line {}", i);
        wish.output = i % 3 != 0;
        wish.analog = i % 5 == 0;
        wish.interrupt = i == 7 || i == 22;
        wish.output = wish.output && !wish.analog && !wish.interrupt;
        if (i % 4 == 1) wish.preferred = fmt::format("D{}", 22 + i % 9);
        wishes.push_back(wish);
    }
    std::string rows;
    for (const auto& wish : wishes) {
        rows += "[";
        for (const auto& pin : family.pins) rows += fmt::format("{},", board::pinCost(family, rules, wish, pin).value_or(1e6));
        rows += "],";
    }
    const auto expected = numbers("from scipy.optimize import linear_sum_assignment as best\nimport numpy as np\nc = np.array([" + rows +
                                  "])\nr, k = best(c)\nprint(c[r, k].sum())\n");
    ASSERT_EQ(expected.size(), 1U);
    const auto solved = board::assignPins(family, rules, wishes);
    const auto* choices = std::get_if<std::vector<board::PinChoice>>(&solved);
    ASSERT_NE(choices, nullptr);
    double cost = 0.0;
    for (std::size_t w = 0; w < wishes.size(); ++w)
        cost += *board::pinCost(family, rules, wishes[w], *board::pinNamed(family, (*choices)[w].pin));
    EXPECT_NEAR(cost, expected.front(), 1e-9);
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
    const auto* pump = std::get_if<actuator::Pump>(project::findActuator(parts, "centrifugal_12v_small"));
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

// The one-sided bound of Clopper and Pearson is a quantile of the beta distribution: SciPy's own.
TEST_F(Scipy, agreesOnHowManyOfABagMayBeBad) {
    const auto bounds = numbers(R"(
from scipy.stats import beta
for k, n, c in ((0, 5, .9), (1, 5, .9), (2, 5, .9), (1, 20, .95), (3, 50, .9), (7, 10, .99), (0, 200, .9)):
    print(beta.ppf(c, k + 1, n - k))
)");
    ASSERT_EQ(bounds.size(), 7U);
    std::size_t i = 0;
    for (const auto& [k, n, c] : {std::tuple{0.0, 5.0, 0.9},
                                  {1.0, 5.0, 0.9},
                                  {2.0, 5.0, 0.9},
                                  {1.0, 20.0, 0.95},
                                  {3.0, 50.0, 0.9},
                                  {7.0, 10.0, 0.99},
                                  {0.0, 200.0, 0.9}}) {
        const auto ours = journal::bagShare({of<Count>(n), of<Count>(k), of<Fraction>(c)});
        ASSERT_TRUE(ours);
        EXPECT_NEAR(si(ours->result.at_most), bounds[i], 1e-9) << k << " of " << n;
        ++i;
    }
}

// Mean, deviation, median and the modified z-score of Iglewicz and Hoaglin, by Python's statistics alone.
TEST_F(Scipy, agreesOnABagsSpread) {
    const auto expected = numbers(R"(
from statistics import mean, stdev, median
x = [9.8, 10.1, 10.0, 9.9, 10.2, 18.0, 10.05]
m = median(x); mad = median(abs(v - m) for v in x)
print(mean(x), stdev(x), m, mad)
for v in x: print(1 if 0.6745*abs(v - m)/mad > 3.5 else 0)
)");
    ASSERT_EQ(expected.size(), 11U);
    const std::vector<double> x{9.8, 10.1, 10.0, 9.9, 10.2, 18.0, 10.05};
    const auto ours = journal::bagSpread(x);
    EXPECT_NEAR(ours.mean, expected[0], 1e-12);
    EXPECT_NEAR(ours.deviation, expected[1], 1e-12);
    EXPECT_NEAR(ours.median, expected[2], 1e-12);
    EXPECT_NEAR(ours.away, expected[3], 1e-12);
    for (std::size_t k = 0; k < x.size(); ++k) EXPECT_EQ(std::count(ours.strange.begin(), ours.strange.end(), k), expected[4 + k]) << k;
}

// The case: SciPy's root of the same balance, with radiation in kelvins and still air by Holman's simplified formulas.
TEST_F(Scipy, agreesOnTheWarmthOfACase) {
    const auto expected = numbers(R"(
from scipy.optimize import brentq
s = 5.670374419e-8
for P, w, h, d, ta, e in ((2, .42, .26, .3, 298.15, .9), (15, .2, .1, .15, 313.15, .9), (60, .3, .4, .25, 293.15, .1)):
    sides, lid = 2*(w + d)*h, w*d
    air = lambda t: 1.42*(t/h)**.25*t*sides + 1.32*(t/((w + d)/2))**.25*t*lid
    wall = brentq(lambda t: air(t) + e*s*((ta + t)**4 - ta**4)*(sides + lid) - P, 1e-9, 2000, xtol=1e-12)
    print(ta + wall, ta + wall + brentq(lambda t: air(t) - P, 1e-9, 2000, xtol=1e-12))
)");
    ASSERT_EQ(expected.size(), 6U);
    std::size_t i = 0;
    for (const auto& [heat, w, h, d, ambient, e] :
         {std::tuple{2.0, 0.42, 0.26, 0.3, 298.15, 0.9}, {15.0, 0.2, 0.1, 0.15, 313.15, 0.9}, {60.0, 0.3, 0.4, 0.25, 293.15, 0.1}}) {
        const auto ours = power::boxTemperature(
            {of<Power>(heat), of<Length>(w), of<Length>(h), of<Length>(d), of<Temperature>(ambient), of<Fraction>(e)});
        ASSERT_TRUE(ours);
        EXPECT_NEAR(si(ours->result.wall), expected[i], 1e-6) << heat;
        EXPECT_NEAR(si(ours->result.inside), expected[i + 1], 1e-6) << heat;
        i += 2;
    }
}

// A belt round two pulleys, by measuring the curve: its pitch line as a polygon of a million corners.
TEST_F(Scipy, agreesOnABeltMeasuredAsACurve) {
    const auto expected = numbers(R"(
import numpy as np
from math import pi, asin
for z, Z, p, C in ((16, 60, 2e-3, .1), (20, 36, 5e-3, .4), (40, 20, 3e-3, .09)):
    r, R = sorted((z*p/2/pi, Z*p/2/pi)); a = asin((R - r)/C)
    big = np.linspace(pi/2 - a, 3*pi/2 + a, 500001); small = np.linspace(-pi/2 + a, pi/2 - a, 500001)
    x = np.concatenate([R*np.cos(big), C + r*np.cos(small)]); y = np.concatenate([R*np.sin(big), r*np.sin(small)])
    x = np.append(x, x[0]); y = np.append(y, y[0])
    print(np.hypot(np.diff(x), np.diff(y)).sum())
)");
    ASSERT_EQ(expected.size(), 3U);
    std::size_t i = 0;
    for (const auto& [z, Z, p, c] : {std::tuple{16.0, 60.0, 2e-3, 0.1}, {20.0, 36.0, 5e-3, 0.4}, {40.0, 20.0, 3e-3, 0.09}}) {
        const auto ours = demand::beltLength({of<Count>(z), of<Count>(Z), of<Length>(p), of<Length>(c)});
        ASSERT_TRUE(ours);
        EXPECT_NEAR(si(ours->result.length), expected[i], 1e-8) << z;
        ++i;
    }
}

}  // namespace
}  // namespace hinge
