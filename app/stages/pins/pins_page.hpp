#pragma once
#include "pictures/wiring_picture.hpp"
#include "shell/document.hpp"
#include "stages/pins/pins_picture.hpp"

class QComboBox;
class QLabel;
class QPushButton;
class QStackedWidget;
class QScrollArea;
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
    [[nodiscard]] View view() const { return view_; }
    /// Takes a wire in hand. @param label  "W07"
    void choose(const QString& label);
    void applyTheme();

Q_SIGNALS:
    void viewShown();
    void lit(int wire);  ///< row of the list that is lit up; drawing::no_wire: none

protected:
    void resizeEvent(QResizeEvent* event) override;

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
    void saveLabels(std::size_t sheet);
    [[nodiscard]] QString listHtml() const;
    /// A wire is lit up wherever it is shown: drawing, list and board. @param row  of the list; drawing::no_wire: none
    void light(int row);
    void reveal(int row);
    void showCircuit();
    void follow();

    Document* document_;
    QString channel_;
    View view_ = View::Board;
    std::vector<QPushButton*> tabs_;
    QStackedWidget* stack_;
    PinsPicture* picture_;
    WiringPicture* drawn_;
    QScrollArea* sheet_;
    QTableWidget* wires_;
    QComboBox* since_;
    QLabel* said_;
    QTableWidget* boards_;
    QLabel* moves_;
    QPushButton* change_;
    QTableWidget* builds_;
    std::vector<plan::WireRow> rows_;
    bool following_ = false;
    QString shown_;  ///< channel whose circuit was brought into view last
    bool filling_ = false;
};

}  // namespace hinge::app
