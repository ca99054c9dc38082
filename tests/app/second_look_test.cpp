// What was wanted at the second look: the worst first, what is alike at once, formulas as in a book.
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMouseEvent>
#include <QPushButton>
#include <QRegularExpression>
#include <QScrollArea>
#include <QSignalSpy>
#include <QTableWidget>
#include <QTextBlock>
#include <QTextBrowser>
#include "app/fixture.hpp"
#include "pictures/formula_picture.hpp"
#include "pictures/picture.hpp"
#include "pictures/wiring_picture.hpp"
#include "project/routine_edits.hpp"
#include "shell/facts_panel.hpp"
#include "shell/findings_strip.hpp"
#include "shell/handbook.hpp"
#include "shell/headline_strip.hpp"
#include "shell/working_panel.hpp"
#include "stages/log/log_page.hpp"
#include "stages/pins/label_sheets.hpp"
#include "stages/pins/pins_page.hpp"
#include "stages/prove/prove_page.hpp"

namespace hinge::app {
namespace {

class SecondLook : public test::WindowTest {
protected:
    // The words of the strip's labels, from top to bottom.
    [[nodiscard]] QStringList told() const {
        QApplication::processEvents();
        std::vector<std::pair<QPoint, QString>> found;
        const auto* strip = window_->findChild<FindingsStrip*>("findings");
        for (const auto* each : strip->findChildren<QLabel*>())
            if (each->isVisibleTo(strip) && !each->text().isEmpty()) found.emplace_back(each->mapTo(strip, QPoint()), each->text());
        std::sort(found.begin(), found.end(),
                  [](const auto& a, const auto& b) { return std::pair(a.first.y(), a.first.x()) < std::pair(b.first.y(), b.first.x()); });
        QStringList words;
        for (const auto& each : found) words << each.second;
        return words;
    }
};

TEST_F(SecondLook, theWorstStandsFirstAndNotesAreOneLine) {
    openCopy("demos/paper-moon-stage");
    window_->showCrossbar();
    const auto words = told();
    ASSERT_FALSE(words.isEmpty());
    const auto marks = words.filter(QRegularExpression("^(breaks|tight|note)$"));
    ASSERT_GT(marks.size(), 2);
    EXPECT_EQ(marks.first(), "tight");
    EXPECT_EQ(marks.count("note"), 1) << "all notes in one line";
    EXPECT_EQ(marks.last(), "note");
    QTest::mouseClick(find<QPushButton>("showNotes"), Qt::LeftButton);
    const auto shown = told().filter(QRegularExpression("^note$"));
    EXPECT_GT(shown.size(), 4) << "and each where it is asked for";
    QTest::mouseClick(find<QPushButton>("showNotes"), Qt::LeftButton);
    EXPECT_EQ(told().filter(QRegularExpression("^note$")).size(), 1);
}

TEST_F(SecondLook, aStagesOwnCautionIsNotFolded) {
    open();
    go(project::Stage::Need);
    EXPECT_TRUE(told().join(' ').contains("Water near electricity")) << told().join('\n').toStdString();
}

// Two heaters without a cut-out: said once, with both names, and one press cures both.
TEST_F(SecondLook, whatIsAlikeIsSaidOnceAndCuredAtOnce) {
    open();
    auto project = document_->model().project;
    project = project::addRunningChannel(project, project::ChannelKind::Heat, "Left mat");
    project = project::addRunningChannel(project, project::ChannelKind::Heat, "Right mat");
    document_->replace(project);
    document_->settle();
    window_->showCrossbar();
    const auto said = [&] { return told().filter("no thermal cut-out").size(); };
    EXPECT_EQ(said(), 1);
    EXPECT_TRUE(told().join('|').contains("Likewise Right mat.")) << told().join('\n').toStdString();
    auto* each = window_->findChild<QPushButton*>(QString("alike_heater-cutout%1").arg(static_cast<int>(project::Stage::Need)));
    ASSERT_NE(each, nullptr);
    QTest::mouseClick(each, Qt::LeftButton);
    EXPECT_EQ(said(), 2) << "each by itself";
    QTest::mouseClick(window_->findChild<QPushButton*>(QString("alike_heater-cutout%1").arg(static_cast<int>(project::Stage::Need))),
                      Qt::LeftButton);
    ASSERT_EQ(said(), 1);
    QTest::mouseClick(find<QPushButton>("remedyAll_heater-cutout"), Qt::LeftButton);
    document_->settle();
    for (const auto& channel : document_->model().project.channels)
        if (const auto* heat = std::get_if<project::HeatDemand>(&channel.demand)) EXPECT_TRUE(heat->cutout) << channel.name;
    EXPECT_EQ(said(), 0);
    document_->undo();
    document_->settle();
    EXPECT_EQ(said(), 1) << "in one step back";
}

// The working of the head: as in a book, its line for a screen reader, and a symbol leads to where it comes from.
TEST_F(SecondLook, aSymbolLeadsToItsStep) {
    open();
    go(project::Stage::Need);
    QApplication::processEvents();
    const auto formulas = find<WorkingPanel>("working")->findChildren<FormulaLine*>();
    ASSERT_GT(formulas.size(), 8);
    FormulaLine* friction = nullptr;
    for (auto* each : formulas)
        if (each->line().startsWith("f = ")) friction = each;
    ASSERT_NE(friction, nullptr);
    EXPECT_EQ(friction->accessibleName(), friction->line());
    EXPECT_TRUE(friction->line().contains("/(Re·√f)")) << friction->line().toStdString();
    EXPECT_GT(friction->heightForWidth(300), 1.6 * QFontMetrics(textFont(Text::Body)).height()) << "a fraction is taller than a line";
    EXPECT_GT(friction->heightForWidth(120), friction->heightForWidth(400)) << "and breaks where it has no room";
    window_->findChild<WorkingPanel*>("working")->findChild<QScrollArea*>()->ensureWidgetVisible(friction);
    EXPECT_TRUE(QTest::qWaitFor([&] { return friction->height() >= friction->heightForWidth(friction->width()); })) << "its room is given";
    friction->grab();
    QSignalSpy pressed(friction, &FormulaLine::symbolPressed);
    const auto symbols = friction->symbols();
    const auto re = std::find_if(symbols.begin(), symbols.end(), [](const auto& each) { return each.text == "Re"; });
    ASSERT_NE(re, symbols.end());
    EXPECT_TRUE(QRectF(friction->rect()).contains(re->box))
        << "all of it is seen: " << friction->width() << "x" << friction->height() << " of " << friction->heightForWidth(friction->width())
        << ", box " << re->box.left() << " " << re->box.top() << " " << re->box.right() << " " << re->box.bottom();
    QTest::mouseClick(friction, Qt::LeftButton, Qt::NoModifier, re->box.center().toPoint());
    ASSERT_FALSE(pressed.isEmpty());
    EXPECT_EQ(pressed.last().first().toString(), "Re");
    bool led = false;
    for (auto* each : formulas)
        if (each->line().startsWith("Re = ")) led = each->parentWidget()->styleSheet().contains(colours().timeTint.name());
    EXPECT_TRUE(led) << "its own step is shown";
}

// Two sources: each has its bar, and the same is asked of both.
TEST_F(SecondLook, eachSourceHasItsBar) {
    openCopy("demos/paper-moon-stage");
    auto project = document_->model().project;
    auto second = project.sources.front();
    second.id = second.name = "lamps' own";
    project.sources.push_back(second);
    for (auto& rail : project.rails)
        if (rail.id == "servo") rail.from = second.id;
    document_->replace(project);
    document_->settle();
    const auto& sources = document_->model().plan.headline.sources;
    ASSERT_EQ(sources.size(), 2U);
    const auto tip = find<HeadlineStrip>("headline")->toolTip();
    for (const auto& each : sources) EXPECT_TRUE(tip.contains(text(each.name) + ": ")) << tip.toStdString();
    EXPECT_EQ(tip.count("At the most"), 1);
}

// The brief: equal cautions once, with the names, and not a second time in the strip below; what is missing can be typed there.
TEST_F(SecondLook, theBriefSaysEachCautionOnceAndTakesWhatIsMeasured) {
    openCopy("demos/paper-moon-stage");
    window_->go({}, static_cast<int>(project::Stage::Need));
    QApplication::processEvents();
    QStringList pinches;
    for (const auto* each : find<QWidget>("briefBody")->findChildren<QLabel*>())
        if (each->text().contains("can pinch")) pinches << each->text();
    ASSERT_EQ(pinches.size(), 1);
    for (const char* name : {"Curtain", "Moon arm", "Turntable"})
        EXPECT_TRUE(pinches.front().contains(name)) << pinches.front().toStdString();
    EXPECT_FALSE(told().join(' ').contains("can pinch")) << "once is enough";
    const auto missing = document_->model().plan.missing.size();
    ASSERT_GT(missing, 0U);
    auto* field = find<QLineEdit>("brief:channels/rain/calibration/cup_volume");
    ASSERT_NE(field, nullptr);
    field->setFocus();
    QTest::keyClicks(field, "much");
    QTest::keyClick(field, Qt::Key_Return);
    EXPECT_EQ(document_->model().plan.missing.size(), missing) << "what is no volume is refused in place";
    field = find<QLineEdit>("brief:channels/rain/calibration/cup_volume");
    field->selectAll();
    QTest::keyClicks(field, "180 mL");
    QTest::keyClick(field, Qt::Key_Return);
    document_->settle();
    EXPECT_LT(document_->model().plan.missing.size(), missing);
    EXPECT_NEAR(si(*project::findChannel(document_->model().project, "rain")->calibration.cup_volume), 180e-6, 1e-12);
}

// Prove and Log have tabs, and the sentence above is the open one's.
TEST_F(SecondLook, theSentenceBelongsToTheTab) {
    openCopy("demos/paper-moon-stage");
    const auto sentence = [&] { return find<QLabel>("sentence")->text(); };
    go(project::Stage::Prove);
    auto* prove = find<ProvePage>("prove");
    QSet<QString> said;
    for (const auto view : {ProvePage::View::BringUp, ProvePage::View::Samples, ProvePage::View::Fit, ProvePage::View::Faults}) {
        prove->showView(view);
        EXPECT_FALSE(sentence().isEmpty());
        said.insert(sentence());
    }
    EXPECT_EQ(said.size(), 4) << "each says its own";
    prove->showView(ProvePage::View::BringUp);
    EXPECT_TRUE(sentence().contains("steps are done. Next: ")) << sentence().toStdString();
    prove->showView(ProvePage::View::Samples);
    EXPECT_TRUE(sentence().contains("1 are rejected")) << sentence().toStdString();
    go(project::Stage::Log);
    auto* log = find<LogPage>("log");
    said.clear();
    for (const auto view : {LogPage::View::Journal, LogPage::View::Changes, LogPage::View::Runs, LogPage::View::Wiring,
                            LogPage::View::Parts, LogPage::View::Upkeep, LogPage::View::Packet}) {
        log->showView(view);
        said.insert(sentence());
    }
    EXPECT_EQ(said.size(), 7);
    log->showView(LogPage::View::Parts);
    EXPECT_TRUE(sentence().contains("costs €")) << sentence().toStdString();
}

// F1 opens the handbook at the page of the stage; a search finds its words in all pages; every link between pages leads to one.
TEST_F(SecondLook, theHandbookIsInTheWindow) {
    open();
    QSet<QString> pages;
    for (int stage = -1; stage < project::stageCount; ++stage) {
        if (stage < 0) window_->showCrossbar();
        else go(static_cast<project::Stage>(stage));
        QTest::keyClick(window_.get(), Qt::Key_F1);
        auto* handbook = window_->handbook();
        EXPECT_TRUE(handbook->isVisible());
        EXPECT_EQ(handbook->page(), handbookPage(stage));
        EXPECT_GT(handbook->findChild<QTextBrowser*>("handbookText")->toPlainText().size(), 500) << stage;
        pages.insert(handbook->page());
    }
    EXPECT_EQ(pages.size(), 9);
    auto* handbook = window_->handbook();
    auto* search = handbook->findChild<QLineEdit*>("handbookSearch");
    QTest::keyClicks(search, "stall register");
    const auto found = handbook->found("stall register");
    ASSERT_FALSE(found.empty());
    EXPECT_LT(found.size(), 10U);
    EXPECT_EQ(handbook->findChild<QListWidget*>("handbookPages")->count(), static_cast<int>(found.size()));
    auto* text_of = handbook->findChild<QTextBrowser*>("handbookText");
    EXPECT_FALSE(text_of->extraSelections().isEmpty()) << "and shows where";
    EXPECT_TRUE(text_of->textCursor().selectedText().compare("stall", Qt::CaseInsensitive) == 0);
    EXPECT_TRUE(handbook->found("thisWordIsNowhere").empty());
    handbook->openPage("keys");
    EXPECT_TRUE(text_of->toPlainText().contains("Ctrl+K")) << "the menu's own keys";
    EXPECT_TRUE(text_of->toPlainText().contains("Add a channel"));
    // Every link of a page to another.
    for (const auto& id : handbook->found({})) {
        handbook->openPage(id);
        for (auto block = text_of->document()->begin(); block.isValid(); block = block.next())
            for (auto at = block.begin(); !at.atEnd(); ++at) {
                const QUrl link(at.fragment().charFormat().anchorHref());
                if (link.isEmpty() || !link.isRelative() || link.path().startsWith("..")) continue;
                EXPECT_TRUE(QFile::exists(":/handbook/" + link.path())) << id.toStdString() << ": " << link.toString().toStdString();
            }
    }
    handbook->close();
}

// What is only on or off has a picture too: its edges through the scene, and one of them from close by.
TEST_F(SecondLook, anOnOffChannelHasItsEdges) {
    openCopy("demos/paper-moon-stage");
    window_->go("lamps", static_cast<int>(project::Stage::Pulse));
    ASSERT_TRUE(QTest::qWaitFor([&] { return document_->model().scene.has_value(); }));
    QApplication::processEvents();
    auto* picture = find<QWidget>("pulse")->findChild<Picture*>();
    ASSERT_NE(picture, nullptr);
    QImage canvas(700, 500, QImage::Format_RGB32);
    canvas.fill(Qt::white);
    QPainter p(&canvas);
    picture->render(p, QRectF(0, 0, 700, 500));
    p.end();
    int of_time = 0, of_spark = 0;
    for (int y = 0; y < canvas.height(); ++y)
        for (int x = 0; x < canvas.width(); ++x) {
            of_time += canvas.pixelColor(x, y) == colours().time ? 1 : 0;
            of_spark += canvas.pixelColor(x, y) == colours().spark ? 1 : 0;
        }
    EXPECT_GT(of_time, 900) << "its edges at the pin, twice";
    EXPECT_GT(of_spark, 400) << "and at the load";
    EXPECT_TRUE(find<QLabel>("sentence")->text().contains("D10")) << find<QLabel>("sentence")->text().toStdString();
}

// A picture of a formula is drawn within the room that it says it takes, whatever it is made of.
TEST_F(SecondLook, aFormulaKeepsWithinItsRoom) {
    start();
    const QFont font = textFont(Text::Body);
    for (const char* line : {"Q = V/t", "hf = (f·L/D + K)·v²/(2·g)", "f = 1/√f = −2·log10(e/3.7 + 2.51/(Re·√f))", "x = e^(−t/τ)",
                             "y = √(A/π)", "z = ⌊V/Vr·1024⌋", "w = |a − b|/2", "T = 2·π·√(L/g)·(1 + θ²/16)"}) {
        const auto math = parseFormula(line);
        const auto room = roomOf(math, font);
        QImage canvas(static_cast<int>(room.width) + 40, static_cast<int>(room.up + room.down) + 40, QImage::Format_RGB32);
        canvas.fill(Qt::white);
        QPainter p(&canvas);
        p.setPen(Qt::black);
        drawFormula(p, math, font, {20.0, 20.0 + room.up});
        p.end();
        QRect ink;
        for (int y = 0; y < canvas.height(); ++y)
            for (int x = 0; x < canvas.width(); ++x)
                if (qGray(canvas.pixel(x, y)) < 128) ink |= QRect(x, y, 1, 1);
        ASSERT_FALSE(ink.isEmpty()) << line;
        EXPECT_GE(ink.left(), 17) << line;
        EXPECT_LE(ink.right(), 23 + room.width) << line;
        EXPECT_GE(ink.top(), 17) << line;
        EXPECT_LE(ink.bottom(), 24 + room.up + room.down) << line;
    }
}

// A wire pointed at in the drawing is lit up in the list, at its pin, and in the hold point's circuit.
TEST_F(SecondLook, aWireIsLitUpWhereverItIsShown) {
    open();
    go(project::Stage::Pins);
    QTest::mouseClick(find<QPushButton>("pinsWires"), Qt::LeftButton);
    QApplication::processEvents();
    auto* drawn = find<QScrollArea>("wiringSheet")->findChild<WiringPicture*>("wiringPicture");
    auto* list = find<QTableWidget>("wireTable");
    ASSERT_NE(drawn, nullptr);
    int row = -1;
    for (int k = 0; k < list->rowCount(); ++k)
        if (list->item(k, 1)->text() == "board D5" && list->item(k, 2)->text().contains("gate")) row = k;
    ASSERT_GE(row, 0);
    // Where its mark ends and nothing hangs on it yet.
    const auto place = drawn->placeOf(row);
    ASSERT_TRUE(place.isValid());
    QPoint on;
    for (double x = place.left(); x < place.right() && on.isNull(); x += 1.0)
        if (drawn->wireAt(QPointF(x, place.center().y())) == row)
            on = QPoint(static_cast<int>(x) + 2, static_cast<int>(place.center().y()));
    ASSERT_FALSE(on.isNull());
    // On a page that is too narrow for the widest circuit, too: what is said of a wire's place is what is seen there.
    const auto narrow_place = [&] {
        drawn->resize(320, drawn->minimumHeight());
        const auto there = drawn->placeOf(row);
        return there.isValid() && QRectF(drawn->rect()).contains(there) && drawn->wireAt(there.center()) == row;
    };
    EXPECT_TRUE(narrow_place());
    find<QScrollArea>("wiringSheet")->widget()->resize(find<QScrollArea>("wiringSheet")->viewport()->width(), drawn->minimumHeight());
    QSignalSpy told(window_->pins(), &PinsPage::lit);
    find<QScrollArea>("wiringSheet")->ensureVisible(on.x(), on.y());
    QMouseEvent move(QEvent::MouseMove, on, drawn->mapToGlobal(QPointF(on)), Qt::NoButton, Qt::NoButton, Qt::NoModifier);
    QApplication::sendEvent(drawn, &move);
    EXPECT_EQ(drawn->lit(), row);
    ASSERT_EQ(told.count(), 1);
    EXPECT_TRUE(find<QLabel>("wiresSaid")->text().contains("board D5 to Rain MOSFET gate"))
        << find<QLabel>("wiresSaid")->text().toStdString();
    QTest::mouseClick(drawn, Qt::LeftButton, {}, on);
    EXPECT_EQ(list->currentRow(), row);
    // At its pin the board has its label, which it has not for another wire.
    QTest::mouseClick(find<QPushButton>("pinsBoard"), Qt::LeftButton);
    const auto pinned = window_->pins()->grab().toImage();
    QTest::mouseClick(find<QPushButton>("pinsWires"), Qt::LeftButton);
    list->setCurrentCell(0, 0);
    EXPECT_EQ(drawn->lit(), 0);
    QTest::mouseClick(find<QPushButton>("pinsBoard"), Qt::LeftButton);
    EXPECT_NE(window_->pins()->grab().toImage(), pinned);
    // The hold point in hand shows its channel's circuit, with the same wire lit.
    QTest::mouseClick(find<QPushButton>("pinsWires"), Qt::LeftButton);
    list->setCurrentCell(row, 0);
    go(project::Stage::Prove);
    window_->prove()->choose("rain.running");
    auto* circuit = find<QFrame>("stepCard")->findChild<WiringPicture*>("wiringPicture");
    ASSERT_NE(circuit, nullptr);
    EXPECT_EQ(circuit->lit(), row);
    ASSERT_EQ(circuit->sheet().drawings.size(), 1U);
    EXPECT_EQ(circuit->sheet().drawings.front().title, "Rain");
}

// Facts that a tab does not use fold away by themselves, and lists have the whole width.
TEST_F(SecondLook, factsFoldAwayWhereATabHasNone) {
    open();
    go(project::Stage::Pins);
    auto* facts = window_->findChild<FactsPanel*>();
    ASSERT_NE(facts, nullptr);
    EXPECT_TRUE(facts->isVisible());
    for (const char* tab : {"pinsWires", "pinsBoards", "pinsBuilds"}) {
        QTest::mouseClick(find<QPushButton>(tab), Qt::LeftButton);
        QApplication::processEvents();
        EXPECT_FALSE(facts->isVisible()) << tab;
    }
    for (const char* name : {"wireTable", "boardTable", "buildTable"}) {
        auto* table = find<QTableWidget>(name);
        EXPECT_LE(table->horizontalHeader()->length(), table->viewport()->width() + 1) << name << " is cut at the right";
    }
    QTest::mouseClick(find<QPushButton>("pinsBoard"), Qt::LeftButton);
    EXPECT_TRUE(facts->isVisible());
    go(project::Stage::Log);
    auto* log = window_->findChild<LogPage*>();
    for (const auto view : {LogPage::View::Journal, LogPage::View::Wiring, LogPage::View::Packet}) {
        log->showView(view);
        QApplication::processEvents();
        EXPECT_FALSE(facts->isVisible());
    }
    log->showView(LogPage::View::Parts);
    EXPECT_TRUE(facts->isVisible()) << "what an hour is worth belongs to what it costs";
}

// Eighteen recipes: each names a kind of channel as the page of a new gadget has it, and a pattern that there is.
TEST_F(SecondLook, everyRecipeNamesWhatThereIs) {
    open();
    QStringList kinds, patterns;
    for (auto* button : window_->findChildren<QPushButton*>(QRegularExpression("^add[A-Z]"))) kinds << button->text().section('\n', 0, 0);
    for (const auto& each : project::patterns()) patterns << text(each.name);
    ASSERT_GE(kinds.size(), 7);
    QFile file(":/handbook/recipes.md");
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    int recipes = 0;
    for (const auto& recipe : QString::fromUtf8(file.readAll()).split("\n## ").mid(1)) {
        ++recipes;
        SCOPED_TRACE(recipe.section('\n', 0, 0).toStdString());
        const QString chosen = recipe.section("**Channel**", 1).section('\n', 0, 0);
        static const QRegularExpression set_apart("\\*([^*]+)\\*");
        const auto in = [&](const QString& words) {
            QStringList all;
            for (auto at = set_apart.globalMatch(words); at.hasNext();) all << at.next().captured(1);
            return all;
        };
        const auto channels = in(chosen.section("**Pattern**", 0, 0)), named = in(chosen.section("**Pattern**", 1));
        EXPECT_FALSE(channels.isEmpty());
        EXPECT_FALSE(named.isEmpty());
        for (const auto& each : channels) EXPECT_TRUE(kinds.contains(each)) << each.toStdString();
        for (const auto& each : named) EXPECT_TRUE(patterns.contains(each)) << each.toStdString();
        // What is only switched has no places to go to.
        const bool goes = channels.contains("It turns") || channels.contains("It moves along") || channels.contains("It presses");
        for (const auto& each : project::patterns())
            if (named.contains(text(each.name)) && !goes) EXPECT_FALSE(each.moves) << each.name;
        for (const char* part : {"**Measure**", "**Goes wrong**", "**Prove**"}) EXPECT_TRUE(recipe.contains(part)) << part;
    }
    EXPECT_EQ(recipes, 18);
}

// Labels on sheets as they are sold: every label on the page, none on another, two for each wire.
TEST_F(SecondLook, labelsLieOnTheirSheet) {
    openCopy("demos/paper-moon-stage");
    const auto rows = plan::wireRows(document_->model().project, document_->model().wires);
    const QRectF page(0, 0, 210, 297);
    for (const auto& sheet : labelSheets()) {
        SCOPED_TRACE(sheet.name);
        EXPECT_TRUE(QString::fromUtf8(sheet.name).startsWith(QString::number(sheet.count()) + " of"));
        for (int n = 0; n < sheet.count(); ++n) {
            EXPECT_TRUE(page.contains(sheet.place(n)));
            if (n > 0)
                EXPECT_FALSE(
                    sheet.place(n).adjusted(0.01, 0.01, -0.01, -0.01).intersects(sheet.place(n - 1).adjusted(0.01, 0.01, -0.01, -0.01)));
        }
        EXPECT_EQ(sheet.place(sheet.count()), sheet.place(0)) << "the next page begins at its corner";
        const QString path = QString::fromStdString((folder_.path() / "labels.pdf").string());
        const auto pages = printLabels(rows, sheet, path);
        ASSERT_TRUE(pages);
        EXPECT_EQ(*pages, static_cast<int>(std::ceil(2.0 * static_cast<double>(rows.size()) / sheet.count())));
        QFile file(path);
        ASSERT_TRUE(file.open(QIODevice::ReadOnly));
        const auto bytes = file.readAll();
        EXPECT_TRUE(bytes.startsWith("%PDF"));
        EXPECT_EQ(bytes.count("/Type /Page\n"), *pages);
    }
    EXPECT_FALSE(printLabels(rows, labelSheets().front(), "/nowhere/labels.pdf"));
}

}  // namespace
}  // namespace hinge::app
