#include "shell/typed.hpp"
#include <QLocale>
#include <QRegularExpression>

namespace hinge::app {

std::string typedNumber(const QString& typed) {
    if (QLocale().decimalPoint() != "," || typed.contains(':')) return typed.toStdString();
    static const QRegularExpression comma("(?<=\\d),(?=\\d)");
    return QString(typed).replace(comma, ".").toStdString();
}

}  // namespace hinge::app
