#pragma once
// The wiring as a deck for ngspice.
#include <map>
#include <set>
#include "plan/wiring.hpp"

namespace hinge::plan {

/// A plain word for each name: letters, digits and single underlines; two names never have the same.
class PlainWords {
public:
    [[nodiscard]] const std::string& of(const std::string& name);
    [[nodiscard]] bool has(const std::string& name) const { return words_.contains(name); }
    void set(const std::string& name, const std::string& word) { words_[name] = word; }

private:
    std::map<std::string, std::string> words_;
    std::set<std::string> taken_{"0", "gnd"};  ///< ngspice's own names of ground
};

/// Nodes by the names of a wiring list's ends; each wire as what lies in it: a resistor, a diode, or a milliohm.
class WireDeck {
public:
    /// Wires that carry the mains are left out.
    explicit WireDeck(const std::vector<Wire>& wires);
    /// The node of an end, made where it is new: a plain word, "it_mosfet_gate".
    [[nodiscard]] std::string node(const std::string& end) { return nodes_.of(end); }
    [[nodiscard]] bool has(const std::string& end) const { return nodes_.has(end); }
    void add(const Wire& wire);
    void line(const std::string& text) { body_ += text + "\n"; }
    [[nodiscard]] const std::string& body() const { return body_; }

private:
    PlainWords nodes_;
    std::string body_;
    int count_ = 0;
};

/// The whole gadget as a deck that runs as it is (`ngspice -b the_gadget.cir`): sources and rails with their resistances, converters and
/// capacitors; the pins as sources that switch each channel on and off once; drivers and loads as models; the contacts of the inputs,
/// open, and the resistors of what is read. What is on the mains, and what the model leaves out, stands in it as a comment.
/// @error Missing  a figure that it needs is not known
[[nodiscard]] Result<std::string> spiceDeck(const project::Project& project, const project::Parts& parts, const Plan& plan);

}  // namespace hinge::plan
