#pragma once
// Prove and Log of a window.
#include <QDate>
#include <QImage>
#include <QLabel>
#include <QPainter>
#include <QScrollArea>
#include <fstream>
#include "app/fixture.hpp"
#include "journal/run_log.hpp"
#include "shell/packet_paper.hpp"
#include "simulation/interpreted_board.hpp"
#include "stages/log/log_page.hpp"
#include "stages/log/packet_page.hpp"
#include "stages/log/time_line.hpp"
#include "stages/log/upkeep_page.hpp"
#include "stages/prove/link_reader.hpp"
#include "stages/prove/prove_page.hpp"
#include "stages/tune/tune_page.hpp"
#include "store/document.hpp"
#include "support/program.hpp"

namespace hinge::app {
namespace proving {

class ProveAndLog : public test::WindowTest {
protected:
    void openStage() { openCopy("demos/paper-moon-stage"); }
    LinkSession& session() { return window_->tune()->session(); }
    void at(const char* channel, project::Stage stage) { window_->go(channel, static_cast<int>(stage)); }
    [[nodiscard]] const proof::Step& step(const std::string& id) const {
        for (const auto& each : document_->model().steps)
            if (each.id == id) return each;
        static const proof::Step none;
        ADD_FAILURE() << id;
        return none;
    }
    void say(const QString& reading) {
        auto* field = find<QLineEdit>("reading");
        field->clear();
        QTest::keyClicks(field, reading);
        QTest::keyClick(field, Qt::Key_Return);
    }
    [[nodiscard]] QString said() { return find<QLabel>("readingSaid")->text(); }
    void press(const QString& button) { QTest::mouseClick(find<QPushButton>(button), Qt::LeftButton); }
    // Types into a field of a table, as its edit is left.
    void enter(const QString& name, const QString& words) {
        auto* field = find<QLineEdit>(name);
        ASSERT_NE(field, nullptr);
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, words);
        QTest::keyClick(field, Qt::Key_Return);
        QApplication::processEvents();
    }
    [[nodiscard]] QString photo(int side = 64, const char* name = "here.png") const {
        QImage image(side, side, QImage::Format_RGB32);
        image.fill(Qt::darkCyan);
        const auto file = folder_.path() / name;
        EXPECT_TRUE(image.save(QString::fromStdString(file.string())));
        return QString::fromStdString(file.string());
    }
    [[nodiscard]] QString photoFile(const std::string& name) const { return document_->folder() + "/photos/" + text(name); }
    void connectStandIn() {
        at("rain", project::Stage::Tune);
        session().startStandIn();
        ASSERT_TRUE(QTest::qWaitFor([&] { return session().connected() && session().telemetry().size() > 60; }, 20000))
            << session().status().toStdString();
    }
    // The page's own button, and what it recorded.
    void readOverLink(const std::string& id, int milliseconds) {
        at("rain", project::Stage::Prove);
        window_->prove()->choose(text(id));
        press("readingOverLink");
        ASSERT_TRUE(QTest::qWaitFor([&] { return !window_->prove()->reader()->busy(); }, milliseconds)) << id;
    }
};

// ---- The runner

}  // namespace proving
}  // namespace hinge::app
