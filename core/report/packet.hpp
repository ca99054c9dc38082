#pragma once
// The packet: all that a stranger needs to build the gadget, as one page with nothing outside it, and as a folder with everything open.
#include <map>
#include "drawing/shapes.hpp"
#include "plan/wiring.hpp"
#include "proof/proved.hpp"
#include "proof/test_sketch.hpp"
#include "proof/upkeep.hpp"

namespace hinge::report {

struct Packet {
    project::Project project;
    proof::Proved proved;
    std::vector<plan::WireRow> wires;
    drawing::Drawing gadget;                               ///< boxes and bundles
    std::vector<drawing::Drawing> circuits;                ///< every wire of the list, drawn
    std::map<std::string, proof::Substitute> substitutes;  ///< by the id of the part that they stand in for
    std::vector<proof::Due> care;                          ///< decided and proposed
    std::vector<proof::TestSketch> tests;
    std::string sketch;                         ///< its text; empty: none yet
    Result<std::string> deck;                   ///< the wiring for ngspice
    std::vector<std::string> assembly;          ///< in their order
    std::map<std::string, std::string> photos;  ///< bytes of the JPEG files by name, as many as could be read
    std::string date;                           ///< given by the caller, shown as it is
};

/// Works a project out and gathers its packet.
[[nodiscard]] Packet packetOf(const project::Project& project, const project::Parts& parts, const plan::Evidence& evidence,
                              const std::string& date);
/// The names of the photos that a project speaks of.
[[nodiscard]] std::vector<std::string> photosOf(const project::Project& project);
/// What is done in which order, from the parts, pins and steps of this gadget.
[[nodiscard]] std::vector<std::string> assemblyOrder(const project::Project& project, const proof::Proved& proved);
/// What a person does and what the gadget does then, a sentence for each cue.
[[nodiscard]] std::vector<std::string> useOf(const project::Project& project, const plan::Plan& plan);

/// Text made safe between HTML tags and inside a quoted attribute.
[[nodiscard]] std::string escaped(const std::string& text);
/// A whole HTML 5 page with its styles, pictures and photos in it; nothing is fetched.
[[nodiscard]] std::string packetHtml(const Packet& packet);

/// A file of the packet's folder.
struct PacketFile {
    std::string path;  ///< inside the folder, "sketch/stage/stage.ino"
    std::string bytes;
};
/// The page, and everything in it that somebody may want to open by itself: tables as CSV, the project, its schedule, pictures, sketches,
/// what its pins do in a scene (VCD), photos.
/// @param scene  value changes of the outputs as VCD; empty: none
[[nodiscard]] std::vector<PacketFile> packetFiles(const Packet& packet, const std::string& project_text, const std::string& scene);

}  // namespace hinge::report
