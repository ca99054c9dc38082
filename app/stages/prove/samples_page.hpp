#pragma once
#include <QWidget>
#include "shell/document.hpp"

class QGridLayout;
class QLabel;
class QPushButton;

namespace hinge::app {

/// The readings of a bag, one scale each: where a good piece falls, and where each piece fell.
class BagPicture final : public QWidget {
    Q_OBJECT
public:
    explicit BagPicture(QWidget* parent = nullptr);
    void present(const std::optional<proof::Bag>& bag);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::optional<proof::Bag> bag_;
};

/// Incoming inspection: pieces of the channel's part, tried before one is built in.
class SamplesPage final : public QWidget {
    Q_OBJECT
public:
    explicit SamplesPage(Document* document, QWidget* parent = nullptr);
    void present(const QString& channel);

private:
    struct Column {
        std::string field;  ///< of journal::Sample
        QString head, hint;
    };
    void build();
    void say(const actuator::Part* part, const std::optional<proof::Bag>& bag);
    void addRow(const std::vector<Column>& columns, const journal::Sample& sample, const proof::Bag& bag, int& row);
    void addPiece();
    void change(const std::string& sample, const std::string& field, const QString& typed);
    [[nodiscard]] std::string part() const;
    [[nodiscard]] std::optional<proof::Bag> bag() const;

    Document* document_;
    QString channel_, built_;
    QLabel *sentence_ = nullptr, *how_ = nullptr, *said_ = nullptr;
    BagPicture* picture_ = nullptr;
    QWidget* rows_ = nullptr;
    QGridLayout* grid_ = nullptr;
    QPushButton* add_ = nullptr;
};

}  // namespace hinge::app
