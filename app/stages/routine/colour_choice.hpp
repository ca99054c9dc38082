#pragma once
#include <QString>
#include <optional>
#include <string>

class QWidget;

namespace hinge::app {

/// Asks for a colour of a lamp. @param now  "#ff8000"; empty: white @return the one that was chosen; nullopt: it stays
[[nodiscard]] std::optional<std::string> chooseColour(QWidget* over, const std::string& now);

}  // namespace hinge::app
