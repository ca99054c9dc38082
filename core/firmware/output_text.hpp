#pragma once
#include <kainjow/mustache.hpp>
#include <string>
#include "firmware/mains_text.hpp"
#include "firmware/motion_text.hpp"
#include "firmware/register_text.hpp"
#include "firmware/sketch.hpp"
#include "firmware/target.hpp"

namespace hinge::firmware {

/// What is printed of the outputs: their rows, and how a level goes to each pin.
struct OutputText {
    kainjow::mustache::data list{kainjow::mustache::data::type::list};
    std::string setup, places;
    bool remembers = false;
    Motion motion;
    MainsText mains;
    RegisterText registers;
};
/// Errors: Missing, with the channel, where a target cannot do what an output asks.
[[nodiscard]] Result<OutputText> outputText(const SketchModel& model, Target target);

}  // namespace hinge::firmware
