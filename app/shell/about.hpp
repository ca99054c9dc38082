#pragma once
#include <QDialog>
#include <vector>

namespace hinge::app {

/// What the program is made of besides its own code.
struct Ingredient {
    const char* name;     ///< "Qt"
    const char* what;     ///< "the window"
    const char* licence;  ///< as Debian's copyright file of its package has it
    const char* package;  ///< of Debian 12
};
[[nodiscard]] const std::vector<Ingredient>& ingredients();

/// Version, licence, and what it is made of.
class About final : public QDialog {
    Q_OBJECT
public:
    explicit About(QWidget* parent = nullptr);
};

}  // namespace hinge::app
