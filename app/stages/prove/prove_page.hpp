#pragma once
#include "shell/document.hpp"
#include <QWidget>

class QVBoxLayout;

namespace hinge::app {

/// The first power-up, one hold point under the other, with a place for each reading.
class ProvePage final : public QWidget {
    Q_OBJECT
public:
    explicit ProvePage(Document* document, QWidget* parent = nullptr);
    void present(const QString& channel);

private:
    void take(const std::string& id, const QString& reading, const QString& skipped);
    Document* document_;
    QVBoxLayout* layout_ = nullptr;
    QString shown_, problem_, problemAt_;
};

}  // namespace hinge::app
