#pragma once
#include "report/packet.hpp"
#include "store/document.hpp"

namespace hinge::cli {

/// `report`: the packet into a page, a zip or a folder, by the name that is given.
/// @param project_path  where the project lies: its photos are beside it
int packet(const store::Document& document, const project::Parts& parts, const plan::Evidence& evidence, const plan::Plan& plan,
           const std::string& project_path, const std::string& day, const std::string& out);
/// `bring-up`: the hold points in their order.
int bringUp(const proof::Proved& proved, bool json);
/// `inspect`: the pieces that were tried, bag by bag.
int inspectBags(const proof::Proved& proved, bool json, bool strict);
/// `fit`: the sheet of lengths and checks.
int showFit(const project::Project& project, const proof::Proved& proved, bool json, bool strict);
/// `account`: parts, money and what could stand in; with a part, what to look at before its substitute is used.
int showAccount(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, const proof::Proved& proved,
                const std::string& instead, bool json);
/// `care`: what is due, and what is proposed.
int showCare(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, const std::string& day, bool json);
/// `test-sketch`: the sketch of one channel's hold points.
int emitTest(const project::Project& project, const project::Parts& parts, const std::string& channel, const std::string& out);

}  // namespace hinge::cli
