// What comes from outside the window: another window, an editor, a foreign folder, another desktop language.
#include <QLabel>
#include <QLocale>
#include <QProcess>
#include <filesystem>
#include <fstream>
#include "app/fixture.hpp"
#include "files/folder.hpp"
#include "project/facts.hpp"
#include "quantity/units.hpp"
#include "shell/outside_notice.hpp"
#include "stages/tune/tune_page.hpp"
#include "store/keeper.hpp"
#include "store/lock.hpp"
#include "store/trials.hpp"

namespace hinge::app::test {
namespace {

class OutsideTest : public WindowTest {
protected:
    [[nodiscard]] QString notice() {
        auto* words_of = window_->findChild<QLabel*>("outsideWords");
        return words_of != nullptr && words_of->isVisible() ? words_of->text() : QString();
    }
    void press(const char* name) {
        auto* button = find<QPushButton>(name);
        ASSERT_TRUE(button->isVisible()) << name;
        QTest::mouseClick(button, Qt::LeftButton);
    }
    [[nodiscard]] std::string nameInFile() { return store::load(folder_.path())->project.brief.name; }
    void editOutside(const std::string& name) {
        auto other = *store::load(folder_.path());
        other.project.brief.name = name;
        ASSERT_TRUE(files::writeWhole(folder_.path() / "project.json", store::toText(other)));
    }
    void rename(const std::string& name) { ASSERT_TRUE(document_->apply(project::FactEdit{"brief/name", name}).isEmpty()); }
};

TEST_F(OutsideTest, aSecondWindowIsToldAndMayTakeOver) {
    open();
    EXPECT_TRUE(notice().isEmpty());
    Document second(HINGE_SOURCE_DIR "/parts");
    second.setCompiling(false);
    MainWindow beside(&second);
    beside.show();
    ASSERT_TRUE(beside.openFolder(text(folder_.path().string())));
    EXPECT_EQ(second.outside(), Document::Outside::Held);
    auto* words_of = beside.findChild<QLabel*>("outsideWords");
    ASSERT_TRUE(words_of->isVisible());
    EXPECT_TRUE(words_of->text().contains(QString::number(QCoreApplication::applicationPid()))) << words_of->text().toStdString();
    // It may be tried there; nothing is written.
    ASSERT_TRUE(second.apply(project::FactEdit{"brief/name", "Second"}).isEmpty());
    EXPECT_FALSE(second.save().isEmpty());
    EXPECT_NE(nameInFile(), "Second");
    // The first one goes on writing, and is told when it is taken over.
    rename("First");
    EXPECT_TRUE(document_->save().isEmpty());
    QTest::mouseClick(beside.findChild<QPushButton*>("outsideTakeOver"), Qt::LeftButton);
    EXPECT_TRUE(second.writes());
    EXPECT_EQ(second.model().project.brief.name, "Second") << "what is unsaved stays in view";
    ASSERT_TRUE(QTest::qWaitFor([&] { return document_->outside() == Document::Outside::TakenOver; }, 5000)) << "within seconds";
    EXPECT_TRUE(notice().contains("taken this gadget over")) << notice().toStdString();
    EXPECT_FALSE(document_->save().isEmpty()) << "nothing is written from here any more";
    EXPECT_TRUE(second.save().isEmpty());
    EXPECT_EQ(nameInFile(), "Second");
    second.undo();
    EXPECT_EQ(second.model().project.brief.name, "First") << "one step back is what the file held";
    // And back again.
    press("outsideTakeOver");
    EXPECT_TRUE(document_->writes());
    EXPECT_TRUE(notice().isEmpty());
}

TEST_F(OutsideTest, anEditorsChangeIsComparedAndTakenOrNot) {
    open();
    rename("Mine");
    editOutside("Theirs");
    ASSERT_TRUE(QTest::qWaitFor([&] { return document_->outside() == Document::Outside::Changed; }, 5000));
    EXPECT_TRUE(notice().contains("Another program has changed the file"));
    EXPECT_FALSE(document_->save().isEmpty()) << "not over it in silence";
    EXPECT_EQ(nameInFile(), "Theirs");
    press("outsideCompare");
    auto* list = find<QLabel>("outsideChanges");
    EXPECT_TRUE(list->isVisible());
    EXPECT_TRUE(list->text().contains("Mine") && list->text().contains("Theirs")) << list->text().toStdString();
    press("outsideTake");
    EXPECT_EQ(document_->model().project.brief.name, "Theirs");
    EXPECT_TRUE(notice().isEmpty());
    document_->undo();
    EXPECT_EQ(document_->model().project.brief.name, "Mine") << "nothing is lost";
    // The other way: kept against it, and theirs is in the history.
    editOutside("Theirs again");
    ASSERT_TRUE(QTest::qWaitFor([&] { return document_->outside() == Document::Outside::Changed; }, 5000));
    press("outsideKeep");
    EXPECT_EQ(nameInFile(), "Mine");
    bool found = false;
    for (std::size_t k = 0; k < document_->history().size(); ++k) found = found || document_->history().at(k)->brief.name == "Theirs again";
    EXPECT_TRUE(found) << "what was written over stands in the history";
}

TEST_F(OutsideTest, aFileThatIsGoneOrCannotBeReadIsSaid) {
    open();
    std::ofstream(folder_.path() / "project.json", std::ios::trunc) << "{ half";
    ASSERT_TRUE(QTest::qWaitFor([&] { return document_->outside() == Document::Outside::Changed; }, 5000));
    EXPECT_TRUE(notice().contains("cannot be read")) << notice().toStdString();
    EXPECT_FALSE(find<QPushButton>("outsideTake")->isVisible()) << "there is nothing to show";
    press("outsideKeep");
    EXPECT_TRUE(store::load(folder_.path()));
    EXPECT_TRUE(std::filesystem::exists(folder_.path() / "project.outside-1.json"));
    std::filesystem::remove(folder_.path() / "project.json");
    ASSERT_TRUE(QTest::qWaitFor([&] { return document_->outside() == Document::Outside::Gone; }, 5000));
    press("outsideAgain");
    EXPECT_TRUE(store::load(folder_.path()));
    EXPECT_TRUE(notice().isEmpty());
}

TEST_F(OutsideTest, aLinkInThePlaceOfTheHistoryEmptiesNothing) {
    start();
    const auto victim = folder_.path() / "precious";
    std::ofstream(victim) << "years of work";
    const auto project = folder_.path() / "foreign";
    std::filesystem::create_directory(project);
    std::filesystem::copy_file(HINGE_SOURCE_DIR "/tests/projects/rain-alone/project.json", project / "project.json");
    std::filesystem::create_symlink(victim, project / "history.jsonl");
    ASSERT_TRUE(window_->openFolder(text(project.string())));
    EXPECT_TRUE(window_->lastSaid().contains("a link")) << window_->lastSaid().toStdString();
    rename("Edited");
    EXPECT_TRUE(document_->save().isEmpty());
    EXPECT_EQ(*files::readWhole(victim), "years of work");
}

// ---- Other desktops ---------------------------------------------------------------------------------------------------------------------

TEST_F(OutsideTest, unitsAreReadWhateverTheDesktopWrites) {
    // A factor of UDUNITS with a fraction, by definition: an inch is 25.4 mm.
    EXPECT_DOUBLE_EQ(unitScale(Kind::Length, "in")->factor, 0.0254);
}
TEST_F(OutsideTest, aDecimalCommaIsANumberWhereTheDesktopWritesOne) {
    openCopy("demos/paper-moon-stage");
    const auto before = QLocale();
    const auto typed = [&](const char* words_of) { return document_->apply(project::FactEdit{"channels/moon/demand/mass", words_of}); };
    const auto grams = [&] { return project::fact(document_->model().project, "channels/moon/demand/mass")->exact; };
    QLocale::setDefault(QLocale(QLocale::German, QLocale::Germany));
    EXPECT_EQ(typed("2,5 kg"), "");
    EXPECT_EQ(grams(), "2.5 kg");
    EXPECT_EQ(typed("1.5 kg"), "") << "a point goes as well";
    EXPECT_EQ(grams(), "1.5 kg");
    EXPECT_NE(typed("1.234,5 kg"), "") << "two marks are no number";
    EXPECT_EQ(grams(), "1.5 kg");
    // Names and lists keep their commas.
    EXPECT_EQ(document_->apply(project::FactEdit{"brief/purpose", "1,5 hours of it"}), "");
    EXPECT_EQ(document_->model().project.brief.purpose, "1,5 hours of it");
    QLocale::setDefault(QLocale::c());
    EXPECT_NE(typed("2,5 kg"), "") << "where a point is written, a comma is a slip";
    QLocale::setDefault(before);
}
// The program itself, from its start: a picture of every view under a desktop with a comma.
TEST_F(OutsideTest, theProgramStartsUnderEveryDesktop) {
    for (const char* language : {"C.UTF-8", "de_DE.UTF-8", "tr_TR.UTF-8"}) {
        QProcess program;
        auto environment = QProcessEnvironment::systemEnvironment();
        environment.insert("LC_ALL", language);
        program.setProcessEnvironment(environment);
        program.start(HINGE_APP, {"--shots", text((folder_.path() / language).string()), "--only", "need",
                                  HINGE_SOURCE_DIR "/tests/projects/rain-alone"});
        ASSERT_TRUE(program.waitForFinished(60000)) << language;
        EXPECT_EQ(program.exitStatus(), QProcess::NormalExit) << language << program.readAllStandardError().toStdString();
        EXPECT_EQ(program.exitCode(), 0) << language << program.readAllStandardError().toStdString();
    }
}

// Two real windows on one project, begun at the same moment: one has it in hand, the other looks on; killed, the first leaves it free.
TEST_F(OutsideTest, twoProcessesAtOnceAndTheLocksOwnerIsKilled) {
    const auto project = folder_.path() / "shared";
    std::filesystem::copy(HINGE_SOURCE_DIR "/tests/projects/rain-alone", project, std::filesystem::copy_options::recursive);
    const auto before = files::readWhole(project / "project.json");
    QProcess first, second;
    for (auto* program : {&first, &second}) program->start(HINGE_APP, {text(project.string())});
    ASSERT_TRUE(first.waitForStarted(20000) && second.waitForStarted(20000));
    auto folder = files::Folder::open(project);
    ASSERT_TRUE(folder) << sentence(folder.error());
    std::optional<store::Holder> holder;
    ASSERT_TRUE(QTest::qWaitFor([&] { return (holder = store::Lock::holderOf(*folder)).has_value(); }, 30000)) << "somebody takes it";
    QTest::qWait(4000);  // both are up by now
    holder = store::Lock::holderOf(*folder);
    ASSERT_TRUE(holder);
    ASSERT_TRUE(holder->process == first.processId() || holder->process == second.processId());
    EXPECT_EQ(first.state(), QProcess::Running) << first.readAllStandardError().toStdString();
    EXPECT_EQ(second.state(), QProcess::Running) << second.readAllStandardError().toStdString();
    EXPECT_FALSE(store::Lock::take(*folder, "2026-11-29T08:00:00")) << "it is in somebody's hand";
    auto& owner = holder->process == first.processId() ? first : second;
    auto& other = holder->process == first.processId() ? second : first;
    owner.kill();
    ASSERT_TRUE(owner.waitForFinished(10000));
    EXPECT_FALSE(store::mayBeAlive(*holder));
    QTest::qWait(1500);
    EXPECT_EQ(other.state(), QProcess::Running) << "it goes on";
    {
        auto taken = store::Lock::take(*folder, "2026-11-29T08:00:01");
        EXPECT_TRUE(taken) << (taken ? "" : sentence(taken.error())) << ": nobody has it";
    }
    EXPECT_EQ(files::readWhole(project / "project.json"), before) << "looking writes nothing";
    other.kill();
    other.waitForFinished(10000);
}

// ---- The interface does not wait --------------------------------------------------------------------------------------------------------

TEST_F(OutsideTest, compilingForTheStandInBlocksNothingAndCanBeStopped) {
    open();
    go(project::Stage::Tune);
    auto& session = window_->tune()->session();
    QElapsedTimer clock;
    clock.start();
    session.startStandIn();
    EXPECT_LT(clock.elapsed(), 200) << "it is compiled beside the interface";
    EXPECT_TRUE(session.compiling());
    QApplication::processEvents();
    session.stopCompiling();
    ASSERT_TRUE(QTest::qWaitFor([&] { return !session.compiling(); }, 10000));
    EXPECT_TRUE(session.status().contains("nothing was started") || session.isOpen()) << session.status().toStdString();
}

}  // namespace
}  // namespace hinge::app::test
