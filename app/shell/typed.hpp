#pragma once
#include <QString>
#include <string>

namespace hinge::app {

/// A number as a maker types it, in the core's spelling: where the desktop writes a decimal comma, "2,5 kg" is "2.5 kg".
/// The point goes as well; lists and times of day, which have a ':', stay as they are.
[[nodiscard]] std::string typedNumber(const QString& typed);

}  // namespace hinge::app
