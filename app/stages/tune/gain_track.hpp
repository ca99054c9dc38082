#pragma once
#include <QWidget>

namespace hinge::app {

/// One gain on a track that is fine near nothing and coarse far away; tinted where the loop still holds.
class GainTrack final : public QWidget {
    Q_OBJECT
public:
    explicit GainTrack(QWidget* parent = nullptr);
    void setMost(double most);
    /// The least change that counts; 0: any.
    void setGrain(double grain) { grain_ = grain; }
    void setValue(double value);
    [[nodiscard]] double value() const { return value_; }
    [[nodiscard]] double most() const { return most_; }
    /// Where it holds, from and to; from > to: nowhere.
    void setHolds(double from, double to);
    [[nodiscard]] std::pair<double, double> holds() const { return {from_, to_}; }
    /// The value at a share of the track's length.
    [[nodiscard]] double valueAt(double share) const { return most_ * share * share * share; }
    [[nodiscard]] QSize sizeHint() const override;

Q_SIGNALS:
    void moved(double value);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void take(double pixel);
    [[nodiscard]] double shareOf(double value) const;
    double grain_ = 0.0, most_ = 1.0, value_ = 0.0, from_ = 1.0, to_ = 0.0;
};

}  // namespace hinge::app
