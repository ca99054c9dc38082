#include "theme/theme.hpp"
#include <QFontDatabase>
#include <cmath>

namespace hinge::app {
namespace {
bool dark_in_use = false;
double scale_in_use = 1.0;
}  // namespace

const Palette& lightPalette() {
    static const Palette p{"#f6f3ec", "#fffdf8", "#d9d3c6", "#20262b", "#5c646b", "#0d6e6a", "#cfe5e1", "#b9551a", "#f3dcc8", "#5a4a93",
                           "#ded8ee", "#b3201f", "#7f6000", "#20262b", "#fffdf8", "#b9c0c6", "#ff9a8f", "#e0834c", "#454e55"};
    return p;
}
const Palette& darkPalette() {
    static const Palette p{"#1c2125", "#242a2f", "#454e55", "#f1eee6", "#b3bbc1", "#5cc4bb", "#1f4a48", "#f0975c", "#5a3520", "#b3a4ec",
                           "#3d345f", "#ff8a80", "#e3c04a", "#12161a", "#f1eee6", "#b3bbc1", "#ff9a8f", "#e0834c", "#454e55"};
    return p;
}
const Palette& colours() {
    return dark_in_use ? darkPalette() : lightPalette();
}
void useDark(bool dark) {
    dark_in_use = dark;
}
bool isDark() {
    return dark_in_use;
}

QColor colourOf(plan::Family family) {
    const auto& c = colours();
    return family == plan::Family::Hinge ? c.hinge : family == plan::Family::Spark ? c.spark : c.time;
}
QColor tintOf(plan::Family family) {
    const auto& c = colours();
    return family == plan::Family::Hinge ? c.hingeTint : family == plan::Family::Spark ? c.sparkTint : c.timeTint;
}

void loadFonts() {
    for (const char* file : {":/fonts/B612-Regular.otf", ":/fonts/B612-Bold.otf", ":/fonts/B612Mono-Regular.otf"})
        QFontDatabase::addApplicationFont(file);
}
double scale() {
    return scale_in_use;
}
void setScale(double factor) {
    scale_in_use = factor;
}
int px(double size) {
    return static_cast<int>(std::lround(size * scale_in_use));
}

QFont textFont(Text text) {
    QFont f(text == Text::Mono ? "B612 Mono" : "B612");
    switch (text) {
        case Text::Small: f.setPixelSize(px(10.5)); break;
        case Text::Body: f.setPixelSize(px(13)); break;
        case Text::Figure:
            f.setPixelSize(px(13.5));
            f.setBold(true);
            break;
        case Text::Sentence:
            f.setPixelSize(px(17));
            f.setBold(true);
            break;
        case Text::Title:
            f.setPixelSize(px(20));
            f.setBold(true);
            break;
        case Text::Mono: f.setPixelSize(px(12)); break;
    }
    return f;
}

QString houseStyle() {
    const auto& c = colours();
    QString sheet = R"(
QMainWindow, QDialog { background-color: @paper; }
QWidget { color: @ink; selection-background-color: @hinge; selection-color: @card; }
QToolTip { color: @ink; background-color: @card; border: 1px solid @line; padding: 3px; }
QLineEdit, QComboBox { background-color: @card; border: 1px solid @line; border-radius: 3px; padding: 2px 6px; min-height: @row; }
QLineEdit:focus, QComboBox:focus { border: 2px solid @hinge; padding: 1px 5px; }
QLineEdit[refused="true"] { border: 2px solid @breaks; padding: 1px 5px; }
QComboBox::drop-down { border: 0; width: 18px; }
QComboBox::down-arrow { image: url(:/glyphs/@chevron.svg); width: 10px; height: 10px; }
QComboBox QAbstractItemView { background-color: @card; border: 1px solid @line; selection-background-color: @hingeTint; selection-color: @ink; outline: 0; }
QPushButton { background-color: @card; border: 1px solid @ink; border-radius: 4px; padding: 3px 11px; min-height: @row; }
QPushButton:hover { background-color: @hingeTint; }
QPushButton:focus { border: 2px solid @hinge; padding: 2px 10px; }
QPushButton:checked { background-color: @timeTint; }
QPushButton:disabled { color: @soft; border-color: @line; }
QPushButton[main="true"] { background-color: @ink; color: @card; }
QPushButton[main="true"]:hover { background-color: @hinge; }
QPushButton[danger="true"] { background-color: @danger; color: #ffffff; border-color: @danger; }
QPushButton[bare="true"] { background-color: transparent; border: 0; padding: 0; text-align: left; min-height: 0; }
QPushButton[bare="true"]:hover { color: @hinge; }
QCheckBox::indicator { width: 15px; height: 15px; border: 1px solid @ink; border-radius: 2px; background-color: @card; }
QCheckBox::indicator:checked { background-color: @hinge; image: url(:/glyphs/tick.svg); }
QScrollArea, QTextBrowser, QPlainTextEdit { border: 0; }
QScrollBar:vertical { background-color: transparent; width: 9px; margin: 0; }
QScrollBar:horizontal { background-color: transparent; height: 9px; margin: 0; }
QScrollBar::handle { background-color: @line; border-radius: 4px; min-height: 26px; min-width: 26px; }
QScrollBar::handle:hover { background-color: @soft; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background-color: transparent; }
QMenu { background-color: @card; border: 1px solid @line; padding: 4px 0; }
QMenu::item { padding: 5px 22px; background-color: @card; }
QMenu::item:selected { background-color: @hingeTint; }
QMenu::separator { height: 1px; background-color: @line; margin: 4px 0; }
QSlider::groove:horizontal { height: 4px; background-color: @line; border-radius: 2px; }
QSlider::sub-page:horizontal { background-color: @timeTint; border-radius: 2px; }
QSlider::handle:horizontal { width: 9px; margin: -7px 0; background-color: @ink; border-radius: 2px; }
)";
    const std::pair<const char*, QString> words[] = {{"@hingeTint", c.hingeTint.name()},
                                                     {"@timeTint", c.timeTint.name()},
                                                     {"@hinge", c.hinge.name()},
                                                     {"@ink", c.ink.name()},
                                                     {"@paper", c.paper.name()},
                                                     {"@card", c.card.name()},
                                                     {"@line", c.line.name()},
                                                     {"@soft", c.soft.name()},
                                                     {"@danger", lightPalette().breaks.name()},
                                                     {"@breaks", c.breaks.name()},
                                                     {"@chevron", isDark() ? "chevron_dark" : "chevron"},
                                                     {"@row", QString("%1px").arg(px(19))}};
    for (const auto& [word, value] : words) sheet.replace(QLatin1String(word), value);
    return sheet;
}

QPalette housePalette() {
    const auto& c = colours();
    QPalette palette;
    palette.setColor(QPalette::Window, c.paper);
    palette.setColor(QPalette::WindowText, c.ink);
    palette.setColor(QPalette::Base, c.card);
    palette.setColor(QPalette::AlternateBase, c.paper);
    palette.setColor(QPalette::Text, c.ink);
    palette.setColor(QPalette::PlaceholderText, c.soft);
    palette.setColor(QPalette::Button, c.card);
    palette.setColor(QPalette::ButtonText, c.ink);
    palette.setColor(QPalette::Highlight, c.hinge);
    palette.setColor(QPalette::HighlightedText, c.card);
    palette.setColor(QPalette::ToolTipBase, c.card);
    palette.setColor(QPalette::ToolTipText, c.ink);
    palette.setColor(QPalette::Link, c.hinge);
    return palette;
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
