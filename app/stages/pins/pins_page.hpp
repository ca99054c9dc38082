#pragma once
#include "shell/document.hpp"
#include "stages/pins/pins_picture.hpp"

class QComboBox;
class QLabel;
class QPushButton;
class QStackedWidget;
class QTableWidget;

namespace hinge::app {

/// Pins: the board with its wires, every wire with its record, the boards that would do, the ways to build.
class PinsPage final : public QWidget {
    Q_OBJECT
public:
    enum class View { Board, Wires, Boards, Builds };
    explicit PinsPage(Document* document, QWidget* parent = nullptr);
    void present(const QString& channel);
    void showView(View view);
    void applyTheme();

private:
    QWidget* makeWires();
    QWidget* makeBoards();
    void fillWires();
    void fillBoards();
    void fillBuilds();
    void recordCell(int row, int column);
    void keepAsItIs();
    void changeBoard();
    void saveCsv();
    void savePdf();
    [[nodiscard]] QString listHtml() const;

    Document* document_;
    QString channel_;
    View view_ = View::Board;
    std::vector<QPushButton*> tabs_;
    QStackedWidget* stack_;
    PinsPicture* picture_;
    QTableWidget* wires_;
    QComboBox* since_;
    QLabel* said_;
    QTableWidget* boards_;
    QLabel* moves_;
    QPushButton* change_;
    QTableWidget* builds_;
    std::vector<plan::WireRow> rows_;
    bool filling_ = false;
};

}  // namespace hinge::app
