#pragma once
#include "pictures/spots.hpp"
#include "shell/document.hpp"

namespace hinge::app {

/// The dark strip across the top: name, worst current, lowest logic volts, findings.
class HeadlineStrip final : public SpotWidget {
    Q_OBJECT
public:
    explicit HeadlineStrip(QWidget* parent = nullptr);
    void present(const Model& model, bool dirty);
    [[nodiscard]] std::vector<Spot> spots() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    QString name_, small_;
    struct Gauge {
        QString label, figure;
        std::optional<double> share;
    };
    std::vector<Gauge> gauges_;
    QString findings_, to_do_;
};

}  // namespace hinge::app
