#pragma once
// The packet: all that a stranger needs to build the gadget, as one page with nothing outside it.
#include "plan/firmware_model.hpp"
#include "plan/wiring.hpp"
#include "proof/bring_up.hpp"

namespace hinge::report {

struct Packet {
    project::Project project;
    plan::Plan plan;
    std::vector<plan::WireRow> wires;
    std::vector<plan::PartLine> parts;
    std::vector<proof::Step> steps;
    std::string sketch;          ///< its text; empty: none yet
    std::string date;            ///< given by the caller, shown as it is
};

/// Gathers a packet from a project and its plan.
[[nodiscard]] Packet packetOf(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, const std::string& date);
/// Text made safe between HTML tags and inside a quoted attribute.
[[nodiscard]] std::string escaped(const std::string& text);
/// A whole HTML 5 page with its styles and pictures in it; nothing is fetched.
[[nodiscard]] std::string packetHtml(const Packet& packet);
/// The crossbar as SVG: a row a channel, a column a stage, each with its figure and verdict's mark.
[[nodiscard]] std::string crossbarSvg(const plan::Plan& plan);

}  // namespace hinge::report
