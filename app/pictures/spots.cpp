#include "pictures/spots.hpp"
#include <QAccessible>
#include <QAccessibleWidget>
#include <QKeyEvent>
#include <QPainter>
#include <QPointer>
#include <algorithm>
#include <cmath>
#include <optional>
#include "theme/theme.hpp"

namespace hinge::app {

SpotWidget::SpotWidget(QWidget* parent) : QWidget(parent) {}

void SpotWidget::takeInHand(int spot) {
    at_ = spot;
    if (const auto all = spots(); spot >= 0 && spot < static_cast<int>(all.size()))
        bringIntoView(all[static_cast<std::size_t>(spot)].place);
    update();
    if (QAccessible::isActive() && spot >= 0) {
        QAccessibleEvent event(this, QAccessible::Focus);
        event.setChild(spot);
        QAccessible::updateAccessibility(&event);
    }
}

void SpotWidget::focusInEvent(QFocusEvent* event) {
    QWidget::focusInEvent(event);
    if (event->reason() == Qt::TabFocusReason || event->reason() == Qt::BacktabFocusReason) by_keys_ = true;
    else if (event->reason() != Qt::ActiveWindowFocusReason && event->reason() != Qt::PopupFocusReason) by_keys_ = false;
    const auto all = spots();
    const auto chosen = std::find_if(all.begin(), all.end(), [](const Spot& spot) { return spot.chosen; });
    if (chosen != all.end()) return takeInHand(static_cast<int>(chosen - all.begin()));
    takeInHand(all.empty() ? -1 : std::clamp(at_, 0, static_cast<int>(all.size()) - 1));
}

void SpotWidget::focusOutEvent(QFocusEvent* event) {
    QWidget::focusOutEvent(event);
    update();
}

// The nearest spot in that direction: what lies straight ahead before what lies aside.
void SpotWidget::keyPressEvent(QKeyEvent* event) {
    const auto all = spots();
    const int key = event->key();
    if (at_ < 0 || at_ >= static_cast<int>(all.size())) return QWidget::keyPressEvent(event);
    const auto& here = all[static_cast<std::size_t>(at_)];
    if (key == Qt::Key_Return || key == Qt::Key_Enter || key == Qt::Key_Space) {
        if (here.act) return here.act();
        return QWidget::keyPressEvent(event);
    }
    const QPoint way = key == Qt::Key_Left    ? QPoint(-1, 0)
                       : key == Qt::Key_Right ? QPoint(1, 0)
                       : key == Qt::Key_Up    ? QPoint(0, -1)
                       : key == Qt::Key_Down  ? QPoint(0, 1)
                                              : QPoint();
    if (way.isNull()) return QWidget::keyPressEvent(event);
    int best = -1;
    double nearest = 1e9;
    for (int k = 0; k < static_cast<int>(all.size()); ++k) {
        const QPointF by = all[static_cast<std::size_t>(k)].place.center() - here.place.center();
        const double ahead = by.x() * way.x() + by.y() * way.y(), aside = std::abs(by.x() * way.y()) + std::abs(by.y() * way.x());
        if (k != at_ && ahead > 0.5 && ahead + 3.0 * aside < nearest) nearest = ahead + 3.0 * aside, best = k;
    }
    by_keys_ = true;
    if (best >= 0) takeInHand(best);
}

void SpotWidget::paintSpotInHand(QPainter& p) const {
    const auto all = spots();
    if (!hasFocus() || !by_keys_ || at_ < 0 || at_ >= static_cast<int>(all.size())) return;
    p.setPen(QPen(colours().hinge, 2));
    p.setBrush(Qt::NoBrush);
    p.drawRect(QRectF(all[static_cast<std::size_t>(at_)].place).adjusted(1.5, 1.5, -1.5, -1.5));
}

namespace {

class SpotInterface final : public QAccessibleInterface, public QAccessibleActionInterface {
public:
    SpotInterface(SpotWidget* widget, int index) : widget_{widget}, index_{index} {}
    [[nodiscard]] bool isValid() const override { return widget_ != nullptr && spot().has_value(); }
    [[nodiscard]] QObject* object() const override { return nullptr; }
    [[nodiscard]] QAccessibleInterface* parent() const override { return QAccessible::queryAccessibleInterface(widget_); }
    [[nodiscard]] QAccessibleInterface* child(int) const override { return nullptr; }
    [[nodiscard]] QAccessibleInterface* childAt(int, int) const override { return nullptr; }
    [[nodiscard]] int childCount() const override { return 0; }
    [[nodiscard]] int indexOfChild(const QAccessibleInterface*) const override { return -1; }
    [[nodiscard]] QString text(QAccessible::Text which) const override {
        const auto it = spot();
        if (!it) return {};
        switch (which) {
            case QAccessible::Name: return it->name;
            case QAccessible::Value:
            case QAccessible::Description: return it->value;
            default: return {};
        }
    }
    void setText(QAccessible::Text, const QString&) override {}
    [[nodiscard]] QRect rect() const override {
        const auto it = spot();
        return it ? QRect(widget_->mapToGlobal(it->place.topLeft()), it->place.size()) : QRect();
    }
    [[nodiscard]] QAccessible::Role role() const override {
        const auto it = spot();
        return it && it->act ? QAccessible::Button : QAccessible::StaticText;
    }
    [[nodiscard]] QAccessible::State state() const override {
        QAccessible::State state;
        const auto it = spot();
        if (!it) {
            state.invalid = true;
            return state;
        }
        state.focusable = it->act != nullptr;
        state.focused = widget_->hasFocus() && widget_->spotInHand() == index_;
        state.selectable = it->act != nullptr;
        state.selected = it->chosen;
        state.invisible = !widget_->isVisible();
        return state;
    }
    void* interface_cast(QAccessible::InterfaceType type) override {
        return type == QAccessible::ActionInterface ? static_cast<QAccessibleActionInterface*>(this) : nullptr;
    }
    [[nodiscard]] QStringList actionNames() const override {
        const auto it = spot();
        return it && it->act ? QStringList{pressAction(), setFocusAction()} : QStringList{};
    }
    [[nodiscard]] QString localizedActionName(const QString& action) const override {
        const auto it = spot();
        return it && action == pressAction() ? it->action : QAccessibleActionInterface::localizedActionName(action);
    }
    void doAction(const QString& action) override {
        const auto it = spot();
        if (!it) return;
        if (action == setFocusAction()) widget_->setFocus(), widget_->takeInHand(index_);
        else if (action == pressAction() && it->act) it->act();
    }
    [[nodiscard]] QStringList keyBindingsForAction(const QString&) const override { return {}; }

private:
    [[nodiscard]] std::optional<Spot> spot() const {
        if (widget_ == nullptr) return std::nullopt;
        auto all = widget_->spots();
        if (index_ >= static_cast<int>(all.size())) return std::nullopt;
        return std::move(all[static_cast<std::size_t>(index_)]);
    }
    QPointer<SpotWidget> widget_;
    int index_;
};

class SpotWidgetInterface final : public QAccessibleWidget {
public:
    explicit SpotWidgetInterface(SpotWidget* widget) : QAccessibleWidget(widget, QAccessible::Grouping) {}
    ~SpotWidgetInterface() override {
        for (const auto id : made_) QAccessible::deleteAccessibleInterface(id);
    }
    [[nodiscard]] int childCount() const override { return static_cast<int>(spotted()->spots().size()); }
    [[nodiscard]] QAccessibleInterface* child(int index) const override {
        if (index < 0 || index >= childCount()) return nullptr;
        while (static_cast<int>(made_.size()) <= index)
            made_.push_back(QAccessible::registerAccessibleInterface(new SpotInterface(spotted(), static_cast<int>(made_.size()))));
        return QAccessible::accessibleInterface(made_[static_cast<std::size_t>(index)]);
    }
    [[nodiscard]] int indexOfChild(const QAccessibleInterface* of) const override {
        for (int k = 0; k < childCount(); ++k)
            if (child(k) == of) return k;
        return -1;
    }
    [[nodiscard]] QAccessibleInterface* childAt(int x, int y) const override {
        const QPoint at = spotted()->mapFromGlobal(QPoint(x, y));
        const auto all = spotted()->spots();
        for (std::size_t k = 0; k < all.size(); ++k)
            if (all[k].place.contains(at)) return child(static_cast<int>(k));
        return nullptr;
    }
    [[nodiscard]] QAccessibleInterface* focusChild() const override {
        return spotted()->hasFocus() && spotted()->spotInHand() >= 0 ? child(spotted()->spotInHand()) : nullptr;
    }

private:
    [[nodiscard]] SpotWidget* spotted() const { return static_cast<SpotWidget*>(widget()); }
    mutable std::vector<QAccessible::Id> made_;
};

}  // namespace

void installSpots() {
    QAccessible::installFactory([](const QString&, QObject* object) -> QAccessibleInterface* {
        auto* widget = qobject_cast<SpotWidget*>(object);
        return widget != nullptr ? new SpotWidgetInterface(widget) : nullptr;
    });
}

}  // namespace hinge::app
