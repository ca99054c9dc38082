#include "firmware/runtime_files.hpp"
#include <fmt/format.h>
#include <algorithm>
#include "firmware/runtime/spark_clock.hpp"
#include "firmware/runtime/spark_link.hpp"
#include "firmware/runtime/spark_loop.hpp"
#include "firmware/runtime/spark_motion.hpp"
#include "firmware/runtime/spark_program.hpp"
#include "firmware/runtime/spark_state.hpp"
#include "firmware/runtime/spark_store.hpp"
#include "firmware/runtime/spark_tick.hpp"
#include "firmware/runtime/spark_values.hpp"

namespace hinge::firmware {

const std::vector<SketchFile>& runtimeFiles() {
    static const std::vector<SketchFile> files{
        {"src/spark_values.h", std::string{spark_values}}, {"src/spark_motion.h", std::string{spark_motion}},
        {"src/spark_clock.h", std::string{spark_clock}},   {"src/spark_link.h", std::string{spark_link}},
        {"src/spark_loop.h", std::string{spark_loop}},     {"src/spark_store.h", std::string{spark_store}}};
    return files;
}

std::string runtimeIncludes() {
    std::string lines = "// What the chip shares with the plan and the proof, in this folder; the same for every gadget.\n";
    for (const auto& file : runtimeFiles()) lines += fmt::format("#include \"{}\"\n", file.name);
    return lines;
}

Sketch singleFile(Sketch sketch) {
    const auto replaced = [&](const std::string& name, const std::string& by) {
        const std::string line = fmt::format("#include \"{}\"\n", name);
        if (const auto at = sketch.text.find(line); at != std::string::npos) sketch.text.replace(at, line.size(), by);
    };
    for (const auto& file : runtimeFiles()) replaced(file.name, file.text);
    // One that includes another stands behind it.
    for (const auto& file : runtimeFiles()) replaced(file.name.substr(4), "");
    for (const auto& file : runtimeFiles()) std::erase_if(sketch.beside, [&](const SketchFile& each) { return each.name == file.name; });
    return sketch;
}

}  // namespace hinge::firmware
