#pragma once
#include <string>
#include "project/project.hpp"
#include "working/worked.hpp"

namespace hinge::kinds {

/// A working with a heading, as the screens and the report show it.
struct ShownWorking {
    std::string title;
    project::Stage stage = project::Stage::Need;
    std::string channel;
    Steps steps;
    Verdict verdict = Verdict::Holds;
};

}  // namespace hinge::kinds
