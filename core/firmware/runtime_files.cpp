#include "firmware/runtime_files.hpp"
#include <fmt/format.h>
#include <algorithm>
#include "firmware/runtime/spark_clock.hpp"
#include "firmware/runtime/spark_flash.hpp"
#include "firmware/runtime/spark_gadget.hpp"
#include "firmware/runtime/spark_link.hpp"
#include "firmware/runtime/spark_loop.hpp"
#include "firmware/runtime/spark_motion.hpp"
#include "firmware/runtime/spark_program.hpp"
#include "firmware/runtime/spark_state.hpp"
#include "firmware/runtime/spark_store.hpp"
#include "firmware/runtime/spark_tick.hpp"
#include "firmware/runtime/spark_values.hpp"
#include "firmware/runtime/spark_words.hpp"

namespace hinge::firmware {

const std::vector<SketchFile>& runtimeFiles() {
    // In the order in which they are included, but for the last, which comes after the tables.
    static const std::vector<SketchFile> files{
        {"src/spark_flash.h", std::string{spark_flash}},   {"src/spark_values.h", std::string{spark_values}},
        {"src/spark_motion.h", std::string{spark_motion}}, {"src/spark_clock.h", std::string{spark_clock}},
        {"src/spark_link.h", std::string{spark_link}},     {"src/spark_loop.h", std::string{spark_loop}},
        {"src/spark_store.h", std::string{spark_store}},   {"src/spark_program.h", std::string{spark_program}},
        {"src/spark_state.h", std::string{spark_state}},   {"src/spark_tick.h", std::string{spark_tick}},
        {"src/spark_words.h", std::string{spark_words}},   {"src/spark_gadget.h", std::string{spark_gadget}}};
    return files;
}

std::string runtimeIncludes() {
    std::string lines =
        "#include \"gadget.h\"\n// What the chip shares with the plan and the proof, in this folder; the same for every gadget.\n";
    for (const auto& file : runtimeFiles())
        if (file.name != "src/spark_gadget.h") lines += fmt::format("#include \"{}\"\n", file.name);
    return lines;
}

Sketch singleFile(Sketch sketch) {
    const auto replaced = [&](const std::string& name, const std::string& by) {
        const std::string line = fmt::format("#include \"{}\"\n", name);
        const auto at = sketch.text.find(line);
        if (at != std::string::npos) sketch.text.replace(at, line.size(), by);
        return at != std::string::npos;
    };
    const auto own =
        std::find_if(sketch.beside.begin(), sketch.beside.end(), [](const SketchFile& each) { return each.name == "gadget.h"; });
    if (own != sketch.beside.end()) {
        replaced(own->name, own->text);
        sketch.beside.erase(own);
    }
    for (const auto& file : runtimeFiles()) replaced(file.name, file.text);
    // One that includes another stands behind it.
    for (const auto& file : runtimeFiles())
        while (replaced(file.name.substr(4), "")) {
        }
    for (const auto& file : runtimeFiles()) std::erase_if(sketch.beside, [&](const SketchFile& each) { return each.name == file.name; });
    return sketch;
}

}  // namespace hinge::firmware
