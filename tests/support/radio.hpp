#pragma once
// A radio's line from outside: the edges of what it says, and the bytes of what it hears.
#include "support/alone.hpp"

namespace hinge::test {

/// The edges of a text on a serial line that is high at rest: eight bits with a start and a stop bit, the lowest first.
/// @param apart  bits of rest between two bytes
inline std::vector<std::pair<double, bool>> edgesOf(const std::string& text, double from, double baud, double apart = 0.0) {
    std::vector<std::pair<double, bool>> edges;
    bool level = true;
    double at = from;
    for (const char c : text) {
        const unsigned bits = static_cast<unsigned>(static_cast<unsigned char>(c)) << 1 | 0x200U;
        for (int k = 0; k < 10; ++k, at += 1.0 / baud) {
            const bool high = (bits >> k & 1) != 0;
            if (high != level) edges.emplace_back(at, high);
            level = high;
        }
        at += apart / baud;
    }
    return edges;
}
/// The text that lies in edges; each has `time` and `level`.
template <class Edges>
std::string textIn(const Edges& edges, double baud) {
    std::string text;
    const auto at = [&](double time) {
        bool level = true;
        for (const auto& edge : edges)
            if (edge.time <= time) level = edge.level;
        return level;
    };
    double free = 0.0;
    for (const auto& edge : edges) {
        if (edge.level || edge.time < free) continue;
        int byte = 0;
        for (int k = 0; k < 8; ++k) byte |= (at(edge.time + (1.5 + k) / baud) ? 1 : 0) << k;
        text += static_cast<char>(byte);
        free = edge.time + 9.5 / baud;
    }
    return text;
}

/// A pump that a cue runs for a second, and a radio on a line of its own: in at D3, out at D4.
inline project::Project withRadio(const std::vector<project::FactEdit>& more = {}) {
    auto project = running(alone(project::ChannelKind::Pump, "centrifugal_12v_small", "mosfet_logic_30v"));
    return edited(project, [&] {
        std::vector<project::FactEdit> edits{{"channels/it/signal/soft_start", "0 s"},
                                             {"channels/it/drive/gate_resistor", "330"},
                                             {"channels/it/drive/flyback_diode", "yes"},
                                             {"board/radio", "yes"},
                                             {"board/radio_apart", "yes"},
                                             {"board/radio_in_pin", "D3"},
                                             {"board/radio_out_pin", "D4"}};
        edits.insert(edits.end(), more.begin(), more.end());
        return edits;
    }());
}

}  // namespace hinge::test
