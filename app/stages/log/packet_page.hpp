#pragma once
#include <QWidget>
#include <memory>
#include "shell/document.hpp"

class QLabel;

namespace hinge::app {

class PacketPaper;

/// The packet's paper, two pages beside each other, as it will be printed.
class PacketSheets final : public QWidget {
    Q_OBJECT
public:
    explicit PacketSheets(QWidget* parent = nullptr);
    ~PacketSheets() override;
    void present(std::unique_ptr<PacketPaper> paper);
    [[nodiscard]] int pages() const;
    [[nodiscard]] bool hasHeightForWidth() const override { return true; }
    [[nodiscard]] int heightForWidth(int width) const override;

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    [[nodiscard]] QRectF sheet(int page, double width) const;
    std::unique_ptr<PacketPaper> paper_;
};

/// All that a stranger needs to build the gadget, looked at before it is handed on.
class PacketPage final : public QWidget {
    Q_OBJECT
public:
    explicit PacketPage(Document* document, QWidget* parent = nullptr);
    void present();

Q_SIGNALS:
    void saveAsked();

private:
    Document* document_;
    project::Project shown_;
    bool any_ = false;
    QLabel* sentence_ = nullptr;
    PacketSheets* sheets_ = nullptr;
};

}  // namespace hinge::app
