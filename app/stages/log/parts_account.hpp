#pragma once
#include <QWidget>
#include "shell/document.hpp"

class QGridLayout;
class QLabel;

namespace hinge::app {

/// What each line costs, and what lies in the drawer of it, drawn as a bar.
class AccountPicture final : public QWidget {
    Q_OBJECT
public:
    explicit AccountPicture(Document* document, QWidget* parent = nullptr);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Document* document_;
};

/// Parts, money and time: counts that must agree with the plan, spares, lead time, what could stand in, and whether it was worth it.
class PartsAccount final : public QWidget {
    Q_OBJECT
public:
    explicit PartsAccount(Document* document, QWidget* parent = nullptr);
    void present();
    /// Looks for what could stand in for a part, and says what to verify before it does.
    void askInstead(const std::string& part);

private:
    [[nodiscard]] QString key() const;
    void build();
    void addStock(const proof::AccountLine& line, int row);
    void addInstead(const proof::AccountLine& line, int row);
    void change(const std::string& part, const std::string& field, const QString& typed);

    Document* document_;
    QString built_;
    std::string asked_;  ///< part of which a substitute is looked for
    AccountPicture* picture_ = nullptr;
    QLabel *sentence_ = nullptr, *worth_ = nullptr, *said_ = nullptr;
    QWidget* rows_ = nullptr;
    QGridLayout* grid_ = nullptr;
};

}  // namespace hinge::app
