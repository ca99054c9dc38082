#include "firmware/runtime_files.hpp"
#include <fmt/format.h>
#include <algorithm>
#include "firmware/runtime/spark_all.hpp"
#include "firmware/runtime/spark_clock.hpp"
#include "firmware/runtime/spark_commands.hpp"
#include "firmware/runtime/spark_cues.hpp"
#include "firmware/runtime/spark_drive_bridge.hpp"
#include "firmware/runtime/spark_drive_cycles.hpp"
#include "firmware/runtime/spark_drive_ends.hpp"
#include "firmware/runtime/spark_drive_expander.hpp"
#include "firmware/runtime/spark_drive_latch.hpp"
#include "firmware/runtime/spark_drive_phase.hpp"
#include "firmware/runtime/spark_drive_rate.hpp"
#include "firmware/runtime/spark_drive_registers.hpp"
#include "firmware/runtime/spark_flash.hpp"
#include "firmware/runtime/spark_gadget.hpp"
#include "firmware/runtime/spark_hand.hpp"
#include "firmware/runtime/spark_hold.hpp"
#include "firmware/runtime/spark_inputs.hpp"
#include "firmware/runtime/spark_levels.hpp"
#include "firmware/runtime/spark_link.hpp"
#include "firmware/runtime/spark_loop.hpp"
#include "firmware/runtime/spark_motion.hpp"
#include "firmware/runtime/spark_outputs.hpp"
#include "firmware/runtime/spark_power.hpp"
#include "firmware/runtime/spark_program.hpp"
#include "firmware/runtime/spark_radio.hpp"
#include "firmware/runtime/spark_state.hpp"
#include "firmware/runtime/spark_steps.hpp"
#include "firmware/runtime/spark_store.hpp"
#include "firmware/runtime/spark_tick.hpp"
#include "firmware/runtime/spark_values.hpp"
#include "firmware/runtime/spark_words.hpp"

namespace hinge::firmware {

const std::vector<SketchFile>& runtimeFiles() {
    // The first includes all others in this order, but for the last, which comes after the tables.
    static const std::vector<SketchFile> files{{"src/spark.h", std::string{spark_all}},
                                               {"src/spark_flash.h", std::string{spark_flash}},
                                               {"src/spark_values.h", std::string{spark_values}},
                                               {"src/spark_motion.h", std::string{spark_motion}},
                                               {"src/spark_clock.h", std::string{spark_clock}},
                                               {"src/spark_link.h", std::string{spark_link}},
                                               {"src/spark_loop.h", std::string{spark_loop}},
                                               {"src/spark_store.h", std::string{spark_store}},
                                               {"src/spark_drive_cycles.h", std::string{spark_drive_cycles}},
                                               {"src/spark_drive_rate.h", std::string{spark_drive_rate}},
                                               {"src/spark_drive_latch.h", std::string{spark_drive_latch}},
                                               {"src/spark_drive_bridge.h", std::string{spark_drive_bridge}},
                                               {"src/spark_drive_ends.h", std::string{spark_drive_ends}},
                                               {"src/spark_drive_phase.h", std::string{spark_drive_phase}},
                                               {"src/spark_program.h", std::string{spark_program}},
                                               {"src/spark_drive_registers.h", std::string{spark_drive_registers}},
                                               {"src/spark_drive_expander.h", std::string{spark_drive_expander}},
                                               {"src/spark_state.h", std::string{spark_state}},
                                               {"src/spark_power.h", std::string{spark_power}},
                                               {"src/spark_outputs.h", std::string{spark_outputs}},
                                               {"src/spark_inputs.h", std::string{spark_inputs}},
                                               {"src/spark_cues.h", std::string{spark_cues}},
                                               {"src/spark_hand.h", std::string{spark_hand}},
                                               {"src/spark_steps.h", std::string{spark_steps}},
                                               {"src/spark_hold.h", std::string{spark_hold}},
                                               {"src/spark_levels.h", std::string{spark_levels}},
                                               {"src/spark_tick.h", std::string{spark_tick}},
                                               {"src/spark_words.h", std::string{spark_words}},
                                               {"src/spark_commands.h", std::string{spark_commands}},
                                               {"src/spark_radio.h", std::string{spark_radio}},
                                               {"src/spark_gadget.h", std::string{spark_gadget}}};
    return files;
}

Sketch singleFile(Sketch sketch) {
    const auto replaced = [&](const std::string& name, const std::string& by) {
        const std::string line = fmt::format("#include \"{}\"\n", name);
        const auto at = sketch.text.find(line);
        if (at != std::string::npos) sketch.text.replace(at, line.size(), by);
        return at != std::string::npos;
    };
    const auto take = [&](const std::string& name) {
        const auto file =
            std::find_if(sketch.beside.begin(), sketch.beside.end(), [&](const SketchFile& each) { return each.name == name; });
        if (file == sketch.beside.end()) return;
        replaced(name, file->text);
        sketch.beside.erase(file);
    };
    for (const char* name : {"gadget.h", "src/spark.h", "src/spark_gadget.h"}) take(name);
    // Each where it is first asked for, which is in the order of the list; after that it is there already.
    for (const auto& file : runtimeFiles()) replaced(file.name.substr(4), file.text);
    for (const auto& file : runtimeFiles())
        while (replaced(file.name.substr(4), "")) {
        }
    for (const auto& file : runtimeFiles()) std::erase_if(sketch.beside, [&](const SketchFile& each) { return each.name == file.name; });
    return sketch;
}

}  // namespace hinge::firmware
