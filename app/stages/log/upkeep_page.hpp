#pragma once
#include <QWidget>
#include "proof/upkeep.hpp"
#include "shell/document.hpp"

class QLabel;
class QLineEdit;
class QVBoxLayout;

namespace hinge::app {

/// The year ahead with what has to be done when.
class UpkeepPicture final : public QWidget {
    Q_OBJECT
public:
    explicit UpkeepPicture(QWidget* parent = nullptr);
    void present(std::vector<proof::Due> due, const QDate& today);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::vector<proof::Due> due_;
    int first_ = 0;  ///< today's month
    QString month_;
};

/// Care: what is due, what the parts and the place ask for, and what was done today.
class UpkeepPage final : public QWidget {
    Q_OBJECT
public:
    explicit UpkeepPage(Document* document, QWidget* parent = nullptr);
    void present();
    /// For pictures and tests; the real day otherwise.
    void setToday(const QDate& day);

private:
    [[nodiscard]] QDate today() const;
    void add();
    void build(const std::vector<proof::Due>& due, const std::vector<proof::Due>& proposed);

    Document* document_;
    QString built_;
    std::optional<int> julian_;  ///< the day set
    UpkeepPicture* picture_ = nullptr;
    QLabel *sentence_ = nullptr, *said_ = nullptr;
    QLineEdit *what_ = nullptr, *every_ = nullptr;
    QVBoxLayout* rows_ = nullptr;
};

}  // namespace hinge::app
