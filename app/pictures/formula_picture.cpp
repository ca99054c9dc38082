#include "pictures/formula_picture.hpp"
#include <QAction>
#include <QClipboard>
#include <QGuiApplication>
#include <QMouseEvent>
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include "theme/text.hpp"
#include "theme/theme.hpp"

namespace hinge::app {
namespace {

using As = Math::Kind;
constexpr double index_share = 0.74, nested_share = 0.88, bracket_share = 0.32;

QFont smaller(QFont font, double share) {
    if (font.pixelSize() > 0) font.setPixelSize(std::max(8, static_cast<int>(std::lround(font.pixelSize() * share))));
    else font.setPointSizeF(std::max(6.0, font.pointSizeF() * share));
    return font;
}
double em(const QFont& font) {
    return QFontMetricsF(font).height() * 0.72;
}
// Where a fraction's bar lies above the line: in the middle of a minus.
double axisOf(const QFont& font) {
    return QFontMetricsF(font).xHeight() * 0.58;
}

// Measures, and paints where it is given a painter.
class Setter {
public:
    Setter(QPainter* p, std::vector<FormulaSymbol>* symbols) : p_{p}, symbols_{symbols} {}

    FormulaRoom set(const Math& math, const QFont& font, QPointF at) {
        switch (math.kind) {
            case As::Row: return row(math, font, at);
            case As::Word: return word(math, font, at);
            case As::Number: return write(text(math.text), font, at);
            case As::Symbol: return symbol(math, font, at);
            case As::Fraction: return fraction(math, font, at);
            case As::Root: return root(math, font, at);
            case As::Power: return power(math, font, at);
            case As::Fence: return fence(math, font, at);
        }
        return {};
    }

private:
    [[nodiscard]] FormulaRoom measured(const Math& math, const QFont& font) const {
        Setter only(nullptr, nullptr);
        only.depth_ = depth_;
        return only.set(math, font, {});
    }

    FormulaRoom write(const QString& words, const QFont& font, QPointF at) {
        const QFontMetricsF metrics(font);
        if (p_ != nullptr) p_->setFont(font), p_->drawText(at, words);
        return {metrics.horizontalAdvance(words), metrics.capHeight() * 1.12, metrics.descent() * 0.6};
    }
    FormulaRoom word(const Math& math, const QFont& font, QPointF at) {
        const QString words = text(math.text);
        const bool relation = words.size() == 1 && QStringLiteral("+−-=≤≥≈<>").contains(words), dot = words == "·";
        const double gap = dot ? 0.06 * em(font) : 0.0;
        if (dot || relation) {
            auto room = write(words, font, at + QPointF(gap, 0));
            room.width += 2.0 * gap;
            return room;
        }
        if (words == ")" || words == "(" || words == "[" || words == "]") {
            const FormulaRoom room{bracket_share * em(font), QFontMetricsF(font).capHeight() * 1.15, QFontMetricsF(font).descent() * 0.7};
            bracket(text(math.text), {at.x(), at.y() - room.up, room.width, room.up + room.down});
            return room;
        }
        // A logarithm's base stands below.
        if (words.size() > 3 && words.startsWith("log")) return lowered(words.left(3), words.mid(3), font, at);
        return write(words, font, at);
    }
    FormulaRoom lowered(const QString& letters, const QString& index, const QFont& font, QPointF at) {
        auto room = write(letters, font, at);
        const double drop = 0.22 * em(font);
        const auto low = write(index, smaller(font, index_share), at + QPointF(room.width + 0.5, drop));
        return {room.width + low.width + 1.0, room.up, std::max(room.down, drop + low.down)};
    }
    FormulaRoom symbol(const Math& math, const QFont& font, QPointF at) {
        const auto [letter, index] = splitSymbol(math.text);
        const auto room = index.empty() ? write(text(letter), font, at) : lowered(text(letter), text(index), font, at);
        if (symbols_ != nullptr) symbols_->push_back({{at.x(), at.y() - room.up, room.width, room.up + room.down}, text(math.text)});
        return room;
    }
    FormulaRoom row(const Math& math, const QFont& font, QPointF at) {
        FormulaRoom whole{0.0, QFontMetricsF(font).capHeight(), 0.0};
        for (const auto& part : math.parts) {
            const auto room = set(part, font, at + QPointF(whole.width, 0));
            whole = {whole.width + room.width, std::max(whole.up, room.up), std::max(whole.down, room.down)};
        }
        return whole;
    }
    // a/b/c is a over b times c.
    FormulaRoom fraction(const Math& math, const QFont& font, QPointF at) {
        const Math* upper = &math.parts[0];
        Math below{As::Row, {}, {}};
        std::vector<const Math*> under{&math.parts[1]};
        while (upper->kind == As::Fraction) under.insert(under.begin(), &upper->parts[1]), upper = &upper->parts[0];
        for (std::size_t i = 0; i < under.size(); ++i) {
            if (i > 0) below.parts.push_back({As::Word, "·", {}});
            below.parts.push_back(under.size() == 1 ? bare(*under[i]) : *under[i]);
        }
        const QFont inner = depth_ == 0 ? font : smaller(font, nested_share);
        ++depth_;
        const double axis = axisOf(font), gap = 0.16 * em(font), side = 0.18 * em(font);
        const auto top = measured(bare(*upper), inner), bottom = measured(below, inner);
        const double wide = std::max(top.width, bottom.width) + 2.0 * side;
        if (p_ != nullptr) {
            set(bare(*upper), inner, at + QPointF((wide - top.width) / 2.0, -axis - gap - top.down));
            set(below, inner, at + QPointF((wide - bottom.width) / 2.0, -axis + gap + bottom.up));
            p_->setPen(QPen(p_->pen().color(), 1.1));
            p_->drawLine(QPointF(at.x() + side * 0.4, at.y() - axis), QPointF(at.x() + wide - side * 0.4, at.y() - axis));
        }
        --depth_;
        return {wide + 0.1 * em(font), axis + gap + top.down + top.up, gap + bottom.up + bottom.down - axis};
    }
    FormulaRoom root(const Math& math, const QFont& font, QPointF at) {
        const auto& under = bare(math.parts[0]);
        const auto room = measured(under, font);
        const double gap = 0.10 * em(font), hook = 0.62 * em(font) + gap, roof = 0.14 * em(font);
        set(under, font, at + QPointF(hook, 0));
        if (p_ != nullptr) {
            const double top = at.y() - room.up - roof, foot = at.y() + room.down;
            QPainterPath path;
            path.moveTo(at.x() + gap + 0.02 * hook, at.y() - 0.30 * (room.up + room.down));
            path.lineTo(at.x() + gap + 0.22 * hook, at.y() - 0.40 * (room.up + room.down));
            path.lineTo(at.x() + gap + 0.46 * hook, foot);
            path.lineTo(at.x() + 0.92 * hook, top);
            path.lineTo(at.x() + hook + room.width + 1.0, top);
            stroke(path);
        }
        return {hook + room.width + 2.0, room.up + roof + 1.5, room.down};
    }
    FormulaRoom power(const Math& math, const QFont& font, QPointF at) {
        auto room = set(math.parts[0], font, at);
        const QFont raised = smaller(font, index_share);
        const auto high = measured(bare(math.parts[1]), raised);
        const double lift = std::max(0.40 * em(font), room.up - 0.45 * high.up);
        set(bare(math.parts[1]), raised, at + QPointF(room.width + 0.5, -lift));
        return {room.width + high.width + 1.0, std::max(room.up, lift + high.up), room.down};
    }
    FormulaRoom fence(const Math& math, const QFont& font, QPointF at) {
        auto room = measured(math.parts[0], font);
        const double wide = bracket_share * em(font), over = 0.08 * em(font);
        room.up += over, room.down += over;
        bracket(text(math.text), {at.x(), at.y() - room.up, wide, room.up + room.down});
        set(math.parts[0], font, at + QPointF(wide, 0));
        bracket(text(std::string{closing(math.text)}), {at.x() + wide + room.width, at.y() - room.up, wide, room.up + room.down});
        room.width += 2.0 * wide;
        return room;
    }
    // Round ones are round, and as tall as what they hold.
    void bracket(const QString& which, const QRectF& box) {
        if (p_ == nullptr) return;
        QPainterPath path;
        const double left = box.left() + 0.22 * box.width(), right = box.right() - 0.22 * box.width();
        const bool opens = which == "(" || which == "⌊" || which == "⌈" || which == "[";
        const double near = opens ? right : left, far = opens ? left : right;
        if (which == "(" || which == ")") {
            path.moveTo(near, box.top());
            path.cubicTo(2.0 * far - near, box.top() + 0.3 * box.height(), 2.0 * far - near, box.bottom() - 0.3 * box.height(), near,
                         box.bottom());
        } else if (which == "|") {
            path.moveTo(box.center().x(), box.top());
            path.lineTo(box.center().x(), box.bottom());
        } else {
            const bool top = which == "⌈" || which == "⌉" || which == "[" || which == "]", foot = which != "⌈" && which != "⌉";
            path.moveTo(top ? near : far, box.top());
            path.lineTo(far, box.top());
            path.lineTo(far, box.bottom());
            if (foot) path.lineTo(near, box.bottom());
        }
        stroke(path);
    }
    void stroke(const QPainterPath& path) {
        p_->setPen(QPen(p_->pen().color(), 1.2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        p_->setBrush(Qt::NoBrush);
        p_->drawPath(path);
    }

    QPainter* p_;
    std::vector<FormulaSymbol>* symbols_;
    int depth_ = 0;
};

// The parts between which a line may be broken: of a row and of the rows in it.
void partsOf(const Math& math, std::vector<Math>& parts) {
    if (math.kind != As::Row) {
        parts.push_back(math);
        return;
    }
    for (const auto& part : math.parts) partsOf(part, parts);
}
bool breaksBefore(const Math& part) {
    return part.kind == As::Word && (part.text == "+" || part.text == "−" || part.text == "=" || part.text == "·" || part.text == " ");
}

}  // namespace

FormulaRoom roomOf(const Math& math, const QFont& font) {
    return Setter(nullptr, nullptr).set(math, font, {});
}

void drawFormula(QPainter& p, const Math& math, const QFont& font, QPointF at, std::vector<FormulaSymbol>* symbols) {
    Setter(&p, symbols).set(math, font, at);
}

std::vector<Math> inLines(const Math& math, const QFont& font, double width) {
    std::vector<Math> parts, lines;
    partsOf(math, parts);
    Math line{As::Row, {}, {}};
    double wide = 0.0;
    for (std::size_t i = 0; i < parts.size();) {
        // What belongs together: up to the next operator.
        double piece = roomOf(parts[i], font).width;
        std::size_t end = i + 1;
        while (end < parts.size() && !breaksBefore(parts[end])) piece += roomOf(parts[end++], font).width;
        if (wide > 0.0 && wide + piece > width) {
            lines.push_back(std::move(line));
            line = Math{As::Row, {}, {}};
            wide = 0.0;
        }
        for (; i < end; ++i)
            if (!line.parts.empty() || parts[i].text != " ") line.parts.push_back(std::move(parts[i]));
        wide += piece;
    }
    if (!line.parts.empty() || lines.empty()) lines.push_back(std::move(line));
    return lines;
}

FormulaLine::FormulaLine(const QString& line, const QColor& colour, QWidget* parent)
    : QWidget(parent), line_{line}, colour_{colour}, font_{textFont(Text::Body)}, math_{parseFormula(line.toStdString())} {
    setAccessibleName(line);
    setMouseTracking(true);
    QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Minimum);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
    setContextMenuPolicy(Qt::ActionsContextMenu);
    auto* copy = new QAction(tr("Copy as a line"), this);
    connect(copy, &QAction::triggered, this, [this] { QGuiApplication::clipboard()->setText(line_); });
    auto* marked = new QAction(tr("Copy as MathML"), this);
    connect(marked, &QAction::triggered, this, [this] { QGuiApplication::clipboard()->setText(text(mathMl(math_))); });
    addActions({copy, marked});
}

int FormulaLine::heightForWidth(int width) const {
    double height = 0.0;
    for (const auto& line : inLines(math_, font_, width - 2.0)) {
        const auto room = roomOf(line, font_);
        height += room.up + room.down + px(5);
    }
    return static_cast<int>(std::ceil(height));
}
QSize FormulaLine::sizeHint() const {
    return {px(200), heightForWidth(px(200))};
}
QSize FormulaLine::minimumSizeHint() const {
    return {px(60), px(16)};
}

void FormulaLine::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    symbols_.clear();
    double y = 0.0;
    for (const auto& line : inLines(math_, font_, width() - 2.0)) {
        const auto room = roomOf(line, font_);
        p.save();
        p.setPen(colour_);
        p.translate(0.0, y + px(2) + room.up);
        // One part alone that is wider than the column is set narrower.
        const double share = std::min(1.0, (width() - 2.0) / std::max(1.0, room.width));
        p.scale(share, share);
        std::vector<FormulaSymbol> found;
        drawFormula(p, line, font_, {0.0, 0.0}, &found);
        for (auto& each : found) symbols_.push_back({p.transform().mapRect(each.box), each.text});
        p.restore();
        y += room.up + room.down + px(5);
    }
}

std::optional<QString> FormulaLine::symbolAt(QPointF at) const {
    for (const auto& symbol : symbols_)
        if (symbol.box.adjusted(-2, -3, 2, 3).contains(at)) return symbol.text;
    return std::nullopt;
}
void FormulaLine::mouseMoveEvent(QMouseEvent* event) {
    setCursor(symbolAt(event->position()) ? Qt::PointingHandCursor : Qt::ArrowCursor);
}
void FormulaLine::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return QWidget::mousePressEvent(event);
    if (const auto symbol = symbolAt(event->position())) Q_EMIT symbolPressed(*symbol);
}

}  // namespace hinge::app
