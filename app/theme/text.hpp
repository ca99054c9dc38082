#pragma once
// Words for the screen, for what is no QObject as well.
#include <QCoreApplication>
#include <QString>
#include <string>
#include "quantity/text.hpp"

namespace hinge::app {

[[nodiscard]] inline QString text(const std::string& s) {
    return QString::fromStdString(s);
}
/// A number with three digits that count.
[[nodiscard]] inline QString number(double value) {
    return text(significant(value, 3));
}
/// As QObject::tr, where there is none.
[[nodiscard]] inline QString tr(const char* words) {
    return QCoreApplication::translate("views", words);
}

}  // namespace hinge::app
