#include "theme/theme.hpp"
#include <QFontDatabase>
#include <QObject>
#include <QPainterPath>
#include <cmath>

namespace hinge::app {
namespace {
bool dark_in_use = false;
double scale_in_use = 1.0;
}

const Palette& lightPalette() {
    static const Palette p{"#f6f3ec", "#fffdf8", "#d9d3c6", "#20262b", "#5c646b", "#0d6e6a", "#cfe5e1", "#b9551a", "#f3dcc8", "#5a4a93", "#ded8ee", "#b3201f", "#7f6000", "#20262b", "#fffdf8", "#b9c0c6", "#ff9a8f"};
    return p;
}
const Palette& darkPalette() {
    static const Palette p{"#1c2125", "#242a2f", "#454e55", "#f1eee6", "#b3bbc1", "#5cc4bb", "#1f4a48", "#f0975c", "#5a3520", "#b3a4ec", "#3d345f", "#ff8a80", "#e3c04a", "#12161a", "#f1eee6", "#b3bbc1", "#ff9a8f"};
    return p;
}
const Palette& colours() { return dark_in_use ? darkPalette() : lightPalette(); }
void useDark(bool dark) { dark_in_use = dark; }
bool isDark() { return dark_in_use; }

QColor colourOf(plan::Family family) {
    const auto& c = colours();
    return family == plan::Family::Hinge ? c.hinge : family == plan::Family::Spark ? c.spark : c.time;
}
QColor tintOf(plan::Family family) {
    const auto& c = colours();
    return family == plan::Family::Hinge ? c.hingeTint : family == plan::Family::Spark ? c.sparkTint : c.timeTint;
}

void loadFonts() {
    for (const char* file : {":/fonts/B612-Regular.otf", ":/fonts/B612-Bold.otf", ":/fonts/B612Mono-Regular.otf"}) QFontDatabase::addApplicationFont(file);
}
double scale() { return scale_in_use; }
void setScale(double factor) { scale_in_use = factor; }
int px(double size) { return static_cast<int>(std::lround(size * scale_in_use)); }

QFont textFont(Text text) {
    QFont f(text == Text::Mono ? "B612 Mono" : "B612");
    switch (text) {
        case Text::Small: f.setPixelSize(px(10.5)); break;
        case Text::Body: f.setPixelSize(px(13)); break;
        case Text::Figure: f.setPixelSize(px(13.5)); f.setBold(true); break;
        case Text::Sentence: f.setPixelSize(px(17)); f.setBold(true); break;
        case Text::Title: f.setPixelSize(px(20)); f.setBold(true); break;
        case Text::Mono: f.setPixelSize(px(12)); break;
    }
    return f;
}

QString verdictWord(Verdict verdict) {
    switch (verdict) {
        case Verdict::Holds: return QObject::tr("holds");
        case Verdict::Tight: return QObject::tr("tight");
        case Verdict::Breaks: return QObject::tr("breaks");
        case Verdict::Unknown: return QObject::tr("not known");
    }
    return {};
}

void drawMark(QPainter& painter, const QRectF& box, Verdict verdict) {
    const auto& c = colours();
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const double s = px(12);
    const QPointF corner = box.topRight();
    if (verdict == Verdict::Tight) {
        painter.setPen(QPen(c.tight, 2));
        painter.drawLine(corner + QPointF(-s, 1), corner + QPointF(-1, s));
        painter.drawLine(corner + QPointF(-s, 1), corner + QPointF(-1, 1));
        painter.drawLine(corner + QPointF(-1, 1), corner + QPointF(-1, s));
    } else if (verdict == Verdict::Breaks) {
        QPainterPath path;
        path.moveTo(corner + QPointF(-s, 0));
        path.lineTo(corner);
        path.lineTo(corner + QPointF(0, s));
        path.lineTo(corner + QPointF(-s / 2, s * 0.6));
        path.lineTo(corner + QPointF(-s, s));
        path.closeSubpath();
        painter.fillPath(path, c.breaks);
    } else if (verdict == Verdict::Unknown) {
        painter.setPen(QPen(c.soft, 1, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(corner + QPointF(-s - 1, 2), QSizeF(s - 1, s - 3)));
    }
    painter.restore();
}

void drawHeadroom(QPainter& painter, const QRectF& box, std::optional<double> share, Verdict verdict, const QColor& colour, bool onStrip) {
    const auto& c = colours();
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const double h = box.height();
    if (!share) {
        if (verdict == Verdict::Unknown) {
            painter.setPen(QPen(onStrip ? c.stripSoft : c.soft, 1, Qt::DashLine));
            painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), h / 2, h / 2);
        }
        painter.restore();
        return;
    }
    const double limit = box.left() + box.width() * 0.82;   // where the tick stands
    painter.setPen(Qt::NoPen);
    painter.setBrush(onStrip ? QColor("#454e55") : c.line);
    painter.drawRoundedRect(box, h / 2, h / 2);
    const double end = box.left() + std::max(h, std::min(1.0, *share) * (limit - box.left()));
    painter.setBrush(colour);
    painter.drawRoundedRect(QRectF(box.topLeft(), QPointF(end - (*share > 1.0 ? 3 : 0), box.bottom())), h / 2, h / 2);
    if (*share > 1.0) {
        const double over = std::min(box.right(), limit + 3 + (*share - 1.0) * (limit - box.left()));
        painter.setBrush(onStrip ? c.stripBreaks : c.breaks);
        painter.drawRect(QRectF(QPointF(limit + 3, box.top()), QPointF(std::max(over, limit + 8), box.bottom())));
    } else if (*share > 0.8) {
        painter.setPen(QPen(onStrip ? c.strip : c.card, 1.4));
        const double from = end - (end - box.left()) * 0.2;
        for (double x = from; x < end - 2; x += 4) painter.drawLine(QPointF(x, box.bottom()), QPointF(x + 3, box.top()));
    }
    painter.setPen(QPen(onStrip ? c.stripInk : c.ink, 2));
    painter.drawLine(QPointF(limit, box.top() - h * 0.5), QPointF(limit, box.bottom() + h * 0.5));
    painter.restore();
}

QString styleSheet() {
    const auto& c = colours();
    return QString(R"(
QWidget { color: %1; background: %2; }
QToolTip { color: %1; background: %3; border: 1px solid %4; }
QLineEdit, QComboBox, QPlainTextEdit, QSpinBox { background: %3; border: 1px solid %4; border-radius: 3px; padding: 3px 6px; selection-background-color: %5; selection-color: %3; }
QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus { border: 1px solid %5; }
QComboBox::drop-down { border: 0; width: 14px; }
QComboBox QAbstractItemView { background: %3; border: 1px solid %4; selection-background-color: %6; selection-color: %1; }
QPushButton { background: %3; border: 1px solid %1; border-radius: 4px; padding: 4px 10px; }
QPushButton:hover, QPushButton:focus { background: %6; }
QPushButton[main="true"] { background: %1; color: %3; }
QPushButton[danger="true"] { background: %7; color: #ffffff; border-color: %7; }
QPushButton:disabled { color: %8; border-color: %4; }
QCheckBox::indicator { width: 14px; height: 14px; border: 1px solid %1; background: %3; }
QCheckBox::indicator:checked { background: %5; }
QScrollArea, QScrollArea > QWidget > QWidget { border: 0; }
QScrollBar:vertical { background: %2; width: 10px; } QScrollBar::handle:vertical { background: %4; border-radius: 4px; min-height: 24px; }
QScrollBar::add-line, QScrollBar::sub-line { height: 0; width: 0; }
QScrollBar:horizontal { background: %2; height: 10px; } QScrollBar::handle:horizontal { background: %4; border-radius: 4px; }
QMenu { background: %3; border: 1px solid %4; } QMenu::item { padding: 5px 18px; background: %3; } QMenu::item:selected { background: %6; }
QSlider::groove:horizontal { height: 4px; background: %4; border-radius: 2px; } QSlider::handle:horizontal { width: 10px; margin: -6px 0; background: %1; border-radius: 2px; }
)").arg(c.ink.name(), c.paper.name(), c.card.name(), c.line.name(), c.hinge.name(), c.hingeTint.name(), c.breaks.name(), c.soft.name());
}

double contrast(const QColor& a, const QColor& b) {
    const auto luminance = [](const QColor& colour) {
        const auto channel = [](double v) { return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
        return 0.2126 * channel(colour.redF()) + 0.7152 * channel(colour.greenF()) + 0.0722 * channel(colour.blueF());
    };
    const double la = luminance(a), lb = luminance(b);
    return (std::max(la, lb) + 0.05) / (std::min(la, lb) + 0.05);
}

}  // namespace hinge::app
