#pragma once
#include <QWidget>
#include "shell/document.hpp"
#include "stages/facts_view.hpp"

class QVBoxLayout;

namespace hinge::app {

/// The facts of a workplace: fields with units, ranges and how to measure, refused in place.
class FactsPanel final : public QWidget {
    Q_OBJECT
public:
    explicit FactsPanel(Document* document, QWidget* parent = nullptr);
    void present(project::Stage stage, const QString& channel);

private:
    [[nodiscard]] static QString emptyWord(const project::Fact& fact);
    void build(const std::vector<FactGroup>& groups);
    void addFact(const project::Fact& fact);
    void refresh(const std::vector<FactGroup>& groups);
    void edit(const QString& path, const QString& value);

    Document* document_;
    QVBoxLayout* layout_ = nullptr;
    QWidget* body_ = nullptr;
    QString built_;
};

}  // namespace hinge::app
