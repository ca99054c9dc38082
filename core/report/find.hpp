#pragma once
#include <string>
#include <string_view>
#include <vector>
#include "plan/plan.hpp"

namespace hinge::report {

/// What a word was found in.
enum class Found { Channel, Fact, Finding, Wire, Part, Journal };
/// One place where it stands.
struct Hit {
    Found what = Found::Channel;
    std::string name;    ///< of the channel, fact, part; of a wire its two ends
    std::string detail;  ///< what it is now, or what is said
    project::Stage stage = project::Stage::Need;
    std::string channel;  ///< empty: the whole gadget
    std::string path;     ///< of a fact; of a part its id, of a wire its label
    friend bool operator==(const Hit&, const Hit&) = default;
};

/// Where a text stands in a gadget: its channels, facts, findings and wires, the catalogue's parts, the journal. All of its words are in
/// what is found, in any order, whatever the case; what begins with the first of them comes before what only has it somewhere.
/// @param text  UTF-8; nothing but blanks finds nothing
/// @param most  so many of each sort at the most
[[nodiscard]] std::vector<Hit> find(const project::Project& project, const project::Parts& parts, const plan::Plan& plan,
                                    std::string_view text, std::size_t most = 8);
/// Whether all words of `wanted` stand in a text, whatever the case.
[[nodiscard]] bool hasWords(std::string_view text, std::string_view wanted);

}  // namespace hinge::report
