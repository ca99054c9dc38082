#pragma once
#include <QDialog>
#include "shell/document.hpp"

class QComboBox;
class QLabel;
class QPlainTextEdit;
class QPushButton;
class QTableWidget;

namespace hinge::app {

/// The catalogue as a table, one kind at a time: add a part from its data sheet, read a CSV, mark a part
/// as tested, suspect or lying in the drawer. Changes go into the maker's own folder, never into the
/// shipped files.
class PartsWindow final : public QDialog {
    Q_OBJECT
public:
    PartsWindow(Document* document, QWidget* parent = nullptr);
    void present();
    /// Adds what was pasted; empty on success, otherwise why not.
    QString add(const QString& kind, const QString& text);
    /// Reads a CSV of the kind shown; the rows left out stand in the list below.
    QString importFile(const QString& path);
    [[nodiscard]] int problemCount() const { return static_cast<int>(problems_.size()); }

private:
    void fillTable();
    void mark(int row, const QString& field, const QString& value);
    void showProblems();
    void saveProblems();
    [[nodiscard]] QString kind() const;
    Document* document_;
    QComboBox* kinds_;
    QTableWidget* table_;
    QPlainTextEdit* paste_;
    QLabel* said_;
    QPushButton* save_;
    std::vector<catalogue::Problem> problems_;
    std::vector<std::string> ids_;  ///< by row
    bool filling_ = false;
};

}  // namespace hinge::app
