#include "plant/stand_in.hpp"

namespace hinge::plant {

void observe(const std::vector<PumpPlant>& plants, const Bench& bench, Observation& seen) {
    for (const auto& plant : plants) seen.supply_current += plant.supplyCurrent();
    if (const auto* pump = pouring(plants)) seen.poured = pump->poured(), seen.tank = pump->tank();
    seen.machines = bench.seen();
}

}  // namespace hinge::plant
