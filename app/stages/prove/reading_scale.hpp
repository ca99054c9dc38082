#pragma once
#include <QWidget>
#include "proof/bring_up.hpp"

namespace hinge::app {

/// A meter's scale: the range expected as a tinted band, the value expected, and the reading taken.
class ReadingScale final : public QWidget {
    Q_OBJECT
public:
    explicit ReadingScale(QWidget* parent = nullptr);
    void present(const proof::Step& step);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    proof::Step step_;
};

}  // namespace hinge::app
