#pragma once
#include <gtest/gtest.h>
#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QTextBrowser>
#include <QTimer>
#include <QtTest>
#include <filesystem>
#include <memory>
#include "shell/crossbar.hpp"
#include "shell/main_window.hpp"
#include "support/folder.hpp"
#include "theme/theme.hpp"

namespace hinge::app::test {

using hinge::test::TemporaryFolder;

/// Picks an entry of the menu that will open, by its words, through submenus.
inline void pick(QStringList way) {
    QTimer::singleShot(50, [way] {
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        ASSERT_NE(menu, nullptr);
        QMenu* at = menu;
        for (const auto& words : way) {
            QAction* found = nullptr;
            for (auto* action : at->actions())
                if (action->text() == words) found = action;
            ASSERT_NE(found, nullptr) << words.toStdString();
            if (found->menu() != nullptr) at = found->menu();
            else found->trigger();
        }
        menu->close();
    });
}
/// Presses a link of a text.
inline void follow(QTextBrowser* text, const QString& link) {
    Q_EMIT text->anchorClicked(QUrl(link));
}

/// A window on a copy of the demo.
class WindowTest : public testing::Test {
protected:
    void start() {
        window_.reset();
        document_ = std::make_unique<Document>(HINGE_SOURCE_DIR "/parts");
        document_->setCompiling(false);
        window_ = std::make_unique<MainWindow>(document_.get());
        window_->resize(1280, 800);
        window_->show();
        window_->activateWindow();
        static_cast<void>(QTest::qWaitForWindowActive(window_.get()));
    }
    void open() { openCopy("tests/projects/rain-alone"); }
    /// A copy of a project that lies in the source tree.
    void openCopy(const std::string& from) {
        start();
        std::filesystem::remove_all(folder_.path() / "project.autosave.json");
        std::filesystem::copy_file(std::filesystem::path(HINGE_SOURCE_DIR) / from / "project.json", folder_.path() / "project.json",
                                   std::filesystem::copy_options::overwrite_existing);
        ASSERT_TRUE(window_->openFolder(QString::fromStdString(folder_.path().string()))) << window_->lastSaid().toStdString();
        document_->settle();
    }
    void TearDown() override {
        window_.reset();
        document_.reset();
    }
    void go(project::Stage stage) { window_->go(text(document_->model().project.channels.front().id), static_cast<int>(stage)); }
    template <class T>
    T* find(const QString& name) {
        auto* found = window_->findChild<T*>(name);
        EXPECT_NE(found, nullptr) << name.toStdString();
        return found;
    }
    void type(const QString& path, const QString& value) {
        auto* field = find<QLineEdit>(path);
        ASSERT_NE(field, nullptr);
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, value);
        QTest::keyClick(field, Qt::Key_Return);
        field->clearFocus();
    }
    void choose(const QString& path, const QString& id) {
        auto* box = find<QComboBox>(path);
        const int index = box->findData(id);
        ASSERT_GE(index, 0) << id.toStdString();
        box->setCurrentIndex(index);
        emitActivated(box, index);
    }
    void check(const QString& path) {
        QTest::mouseClick(find<QCheckBox>(path), Qt::LeftButton, Qt::NoModifier, QPoint(8, find<QCheckBox>(path)->height() / 2));
    }
    [[nodiscard]] const plan::PlanFinding* finding(std::string_view id) const {
        for (const auto& entry : document_->model().plan.findings)
            if (entry.id == id) return &entry;
        return nullptr;
    }
    [[nodiscard]] QStringList remedyNames() const {
        QApplication::processEvents();
        QStringList names;
        for (auto* button : window_->findChildren<QPushButton*>())
            if (button->objectName().startsWith("remedy_") && button->isVisible()) names << button->objectName();
        return names;
    }
    [[nodiscard]] QString remedyName(const QString& id) const {
        for (const auto& name : remedyNames())
            if (name.startsWith("remedy_" + id + "_")) return name;
        return {};
    }
    Crossbar* crossbar() { return find<Crossbar>("crossbar"); }

    std::unique_ptr<Document> document_;
    std::unique_ptr<MainWindow> window_;
    TemporaryFolder folder_;

private:
    // What a person's choice from the list sends.
    static void emitActivated(QComboBox* box, int index) { Q_EMIT box->activated(index); }
};

}  // namespace hinge::app::test
