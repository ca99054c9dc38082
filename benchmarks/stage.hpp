#pragma once
// The stage as all benchmarks measure it.
#include "catalogue/catalogue.hpp"
#include "plan/firmware_model.hpp"
#include "plan/machines.hpp"
#include "store/document.hpp"

struct Stage {
    hinge::project::Project project = hinge::store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage").value().project;
    hinge::project::Parts parts = hinge::catalogue::load(HINGE_SOURCE_DIR "/parts").value().parts;
    hinge::plan::Plan plan = hinge::plan::evaluate(project, parts);
    hinge::plan::LoopCase loop = hinge::plan::loopCase(project, parts, plan, "spin_speed").value();
    [[nodiscard]] int output(const char* channel) const { return hinge::plan::outputOf(project, plan, channel); }
};
inline const Stage& stage() {
    static const Stage one;
    return one;
}
