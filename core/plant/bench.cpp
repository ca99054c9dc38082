#include "plant/bench.hpp"
#include <algorithm>
#include <cmath>

namespace hinge::plant {
namespace {

template <class... F>
struct Overloaded : F... {
    using F::operator()...;
};
template <class... F>
Overloaded(F...) -> Overloaded<F...>;

void drive(Machine& machine, double dt, double share, double place, bool loose) {
    std::visit(Overloaded{[&](ServoPlant& servo) { servo.step(dt, place); }, [&](StepAxis& axis) { axis.step(dt, place); },
                          [&](Balancer& body) { body.step(dt, place); }, [&](Rotor& rotor) { rotor.step(dt, share, loose); },
                          [&](BoxPlant& box) { box.step(dt, box.figures().backwards > 0.0 ? share : std::max(0.0, share)); },
                          [&](auto& other) { other.step(dt, std::max(0.0, share)); }},
               machine);
}

double sensed(const Machine& machine, const Sense& sense) {
    return std::visit(Overloaded{[&](const Rotor& rotor) { return sense.by_angle ? rotor.driven() : rotor.speed(); },
                                 [&](const FanPlant& fan) { return fan.speed(); }, [](const TankPlant& tank) { return tank.level(); },
                                 [](const BoxPlant& box) { return box.shown(); }, [](const ServoPlant& servo) { return servo.angle(); },
                                 [](const StepAxis& axis) { return axis.angle(); }, [](const Balancer& body) { return body.lean(); }},
                      machine);
}

}  // namespace

Seen look(const Machine& machine) {
    Seen seen;
    std::visit(
        Overloaded{
            [&](const Rotor& r) {
                seen.value = r.speed(), seen.angle = r.driven(), seen.current = r.supplyCurrent(), seen.troubled = r.jammed();
            },
            [&](const FanPlant& f) { seen.value = f.speed(), seen.angle = f.angle(), seen.current = f.current(); },
            [&](const TankPlant& t) { seen.value = seen.angle = t.level(), seen.troubled = t.spilled() > 0.0; },
            [&](const BoxPlant& b) { seen.value = seen.angle = b.temperature(); },
            [&](const ServoPlant& s) { seen.value = seen.angle = s.angle(), seen.current = s.current(), seen.troubled = s.strains(); },
            [&](const StepAxis& a) { seen.value = seen.angle = a.angle(), seen.lost = a.lost(), seen.troubled = a.lost() != 0.0; },
            [&](const Balancer& b) { seen.value = b.lean(), seen.angle = b.rolled(), seen.troubled = b.lies(); }},
        machine);
    return seen;
}

bool showsCurrent(const Machine& machine) {
    return std::holds_alternative<Rotor>(machine) || std::holds_alternative<FanPlant>(machine) ||
           std::holds_alternative<ServoPlant>(machine);
}

Coupling varied(Coupling coupling, std::uint64_t seed) {
    std::mt19937_64 chance{seed};
    // Not std::uniform_real_distribution: its numbers are the library's own affair.
    const auto off = [&](double& figure) { figure *= 0.85 + 0.3 * (static_cast<double>(chance() >> 11) * 0x1.0p-53); };
    coupling.machine = std::visit(Overloaded{[&](const Rotor& r) -> Machine {
                                                 auto f = r.figures();
                                                 off(f.resistance), off(f.torque), off(f.inertia), off(f.friction), off(f.stiction);
                                                 return Rotor{f};
                                             },
                                             [&](const FanPlant& fan) -> Machine {
                                                 auto f = fan.figures();
                                                 off(f.full_speed), off(f.start_share), off(f.spin_up),
                                                     f.keep_share = std::min(f.keep_share, f.start_share);
                                                 return FanPlant{f};
                                             },
                                             [&](const TankPlant& t) -> Machine {
                                                 auto f = t.figures();
                                                 off(f.full_flow), off(f.outlet);
                                                 return TankPlant{f};
                                             },
                                             [&](const BoxPlant& b) -> Machine {
                                                 auto f = b.figures();
                                                 off(f.capacity), off(f.conductance), off(f.sensor_lag);
                                                 return BoxPlant{f};
                                             },
                                             [&](const ServoPlant& s) -> Machine {
                                                 auto f = s.figures();
                                                 off(f.most_speed), off(f.quickness), off(f.per_place);
                                                 return ServoPlant{f};
                                             },
                                             [&](const StepAxis& a) -> Machine {
                                                 auto f = a.figures();
                                                 off(f.load), off(f.inertia);
                                                 return StepAxis{f};
                                             },
                                             [&](const Balancer& b) -> Machine {
                                                 auto f = b.figures();
                                                 off(f.height);
                                                 return Balancer{f};
                                             }},
                                  coupling.machine);
    return coupling;
}

Bench::Bench(std::vector<Coupling> couplings, std::uint64_t seed)
    : couplings_{std::move(couplings)}, late_(couplings_.size()), told_(couplings_.size(), 0.0), chance_{seed} {}

const std::vector<Bench::Reading>& Bench::step(double dt, std::span<const double> shares, std::span<const double> places,
                                               std::span<const std::uint8_t> loose) {
    readings_.clear();
    for (std::size_t c = 0; c < couplings_.size(); ++c) {
        auto& coupling = couplings_[c];
        double share = 0.0, place = 0.0;
        bool lets = !loose.empty();
        for (const int output : coupling.outputs) {
            const auto o = static_cast<std::size_t>(output);
            if (o < shares.size()) share += shares[o] / static_cast<double>(coupling.outputs.size());
            lets = lets && o < loose.size() && loose[o] != 0;
            if (o < places.size()) place += places[o] / static_cast<double>(coupling.outputs.size());
        }
        drive(coupling.machine, dt, share, place, lets);
        if (const auto& shown = coupling.current; shown.input >= 0) {
            const double counts = shown.per_unit * look(coupling.machine).current + shown.noise * noise_(chance_);
            readings_.push_back({shown.input, false, std::round(std::clamp(counts, 0.0, 1023.0))});
        }
        const auto& sense = coupling.sense;
        if (sense.input < 0) continue;
        double value = sensed(coupling.machine, sense);
        if (sense.delay > 0.0) {
            auto& late = late_[c];
            late.push_back(value);
            const auto behind = static_cast<std::size_t>(std::lround(sense.delay / dt));
            value = late.size() > behind ? late[late.size() - 1 - behind] : late.front();
            while (late.size() > behind + 1) late.pop_front();
        }
        value = sense.zero + sense.per_unit * value;
        if (sense.noise > 0.0) value += sense.noise * noise_(chance_);
        told_[c] = sense.tach ? std::abs(value) : std::round(std::clamp(value, 0.0, 1023.0));
        readings_.push_back({sense.input, sense.tach, told_[c]});
    }
    return readings_;
}

std::vector<Seen> Bench::seen() const {
    std::vector<Seen> list;
    for (std::size_t c = 0; c < couplings_.size(); ++c) {
        list.push_back(look(couplings_[c].machine));
        list.back().output = couplings_[c].outputs.empty() ? -1 : couplings_[c].outputs.front();
        list.back().reading = told_[c];
    }
    return list;
}

void Bench::disturb(int output, double how_much) {
    for (auto& coupling : couplings_) {
        if (std::find(coupling.outputs.begin(), coupling.outputs.end(), output) == coupling.outputs.end()) continue;
        if (auto* body = std::get_if<Balancer>(&coupling.machine)) body->lies() || how_much == 0.0 ? body->setUp() : body->push(how_much);
        if (auto* rotor = std::get_if<Rotor>(&coupling.machine)) rotor->jam(how_much != 0.0);
        if (auto* fan = std::get_if<FanPlant>(&coupling.machine)) fan->jam(how_much != 0.0);
    }
}

}  // namespace hinge::plant
