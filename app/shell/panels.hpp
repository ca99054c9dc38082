#pragma once
#include "shell/document.hpp"
#include <QWidget>

class QVBoxLayout;

namespace hinge::app {

/// The facts of a workplace: fields with units, ranges and how to measure, refused in place.
class FactsPanel final : public QWidget {
    Q_OBJECT
public:
    explicit FactsPanel(Document* document, QWidget* parent = nullptr);
    void present(int stage, const QString& channel);

private:
    void build(const std::vector<project::Fact>& facts);
    void refresh(const std::vector<project::Fact>& facts);
    [[nodiscard]] std::vector<project::Fact> chosen(int stage, const QString& channel) const;
    void edit(const QString& path, const QString& value);
    void candidates(const QString& channel);

    Document* document_;
    QVBoxLayout* layout_ = nullptr;
    QWidget* body_ = nullptr;
    QWidget* list_ = nullptr;     ///< ranked candidates, Match only
    QString built_;
    int stage_ = -1;
    QString channel_;
};

/// The working behind the figures: formula, numbers put in, value, source.
class WorkingPanel final : public QWidget {
    Q_OBJECT
public:
    explicit WorkingPanel(QWidget* parent = nullptr);
    void present(const Model& model, int stage, const QString& channel);

private:
    QWidget* body_ = nullptr;
    QString shown_;
};

}  // namespace hinge::app
