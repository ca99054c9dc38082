#pragma once
#include "report/packet.hpp"
#include <QString>

namespace hinge::app {

/// The packet on A4 paper, as PDF, with a running foot and page numbers.
/// @error NotWritable
[[nodiscard]] Result<void> printPacket(const report::Packet& packet, const QString& path);

}  // namespace hinge::app
