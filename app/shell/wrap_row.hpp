#pragma once
#include <QLayout>
#include <vector>

namespace hinge::app {

/// Widgets side by side, in as many rows as the width asks for.
class WrapRow final : public QLayout {
public:
    using QLayout::QLayout;
    ~WrapRow() override;
    void addItem(QLayoutItem* item) override { items_.push_back(item); }
    [[nodiscard]] int count() const override { return static_cast<int>(items_.size()); }
    [[nodiscard]] QLayoutItem* itemAt(int index) const override {
        return index >= 0 && index < count() ? items_[static_cast<std::size_t>(index)] : nullptr;
    }
    QLayoutItem* takeAt(int index) override;
    [[nodiscard]] bool hasHeightForWidth() const override { return true; }
    [[nodiscard]] int heightForWidth(int width) const override { return place({0, 0, width, 0}, false); }
    [[nodiscard]] QSize minimumSize() const override;
    [[nodiscard]] QSize sizeHint() const override { return minimumSize(); }
    void setGeometry(const QRect& box) override;

private:
    int place(const QRect& box, bool move) const;
    std::vector<QLayoutItem*> items_;
};

}  // namespace hinge::app
