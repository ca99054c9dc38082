#include <fstream>
#include "store/document.hpp"
#include "store/json.hpp"
#include "support/demo.hpp"

namespace hinge::store {
namespace {

TEST(ProjectFile, saveAndOpenAreTheSame) {
    test::TemporaryFolder folder;
    Document document;
    document.project = test::demoProject();
    ASSERT_TRUE(save(document, folder.path()));
    const auto back = load(folder.path());
    ASSERT_TRUE(back) << sentence(back.error());
    EXPECT_EQ(back->project, document.project);
    EXPECT_EQ(toText(*back), toText(document)) << "a second save changes nothing";
}

TEST(ProjectFile, unknownFieldsSurviveTheRoundTrip) {
    Json json = toJson(test::demoProject());
    json["later"] = {{"colour", "blue"}};
    json["channels"][0]["demand"]["salt"] = "3 %";
    json["brief"]["mood"] = 7;
    const auto document = fromText(json.dump(), "test");
    ASSERT_TRUE(document) << sentence(document.error());
    const Json back = Json::parse(toText(*document));
    EXPECT_EQ(back["later"]["colour"], "blue");
    EXPECT_EQ(back["channels"][0]["demand"]["salt"], "3 %");
    EXPECT_EQ(back["brief"]["mood"], 7);
}

TEST(ProjectFile, aNewerFormatIsRefusedByName) {
    Json json = toJson(test::demoProject());
    json["format"] = project::format + 1;
    const auto document = fromText(json.dump(), "test");
    ASSERT_FALSE(document);
    EXPECT_EQ(document.error().code, ErrorCode::NewerFormat);
}

TEST(ProjectFile, anOlderFormatIsMigratedAndTheOriginalKept) {
    // A made-up format 0, in which the lift was called 'height'.
    std::vector<Migration> migrations{{0, [](Json& json) {
                                           for (auto& channel : json["channels"]) {
                                               channel["demand"]["lift"] = channel["demand"]["height"];
                                               channel["demand"].erase("height");
                                           }
                                       }}};
    for (const auto& each : shippedMigrations()) migrations.push_back(each);
    Json old = toJson(test::demoProject());
    old["format"] = 0;
    old["channels"][0]["demand"]["height"] = "0.3 m";
    old["channels"][0]["demand"].erase("lift");
    test::TemporaryFolder folder;
    const std::string text = old.dump(2);
    ASSERT_TRUE(files::writeWhole(folder.path() / "project.json", text));
    auto document = load(folder.path(), migrations);
    ASSERT_TRUE(document) << sentence(document.error());
    EXPECT_DOUBLE_EQ(si(*std::get<project::PumpDemand>(document->project.channels.front().demand).lift), 0.3);
    ASSERT_TRUE(save(*document, folder.path()));
    EXPECT_EQ(*files::readWhole(folder.path() / "project.format-0.json"), text) << "the original, byte for byte";
    EXPECT_EQ(Json::parse(*files::readWhole(folder.path() / "project.json"))["format"], project::format);
    EXPECT_FALSE(load(folder.path() / "project.format-0.json")) << "without a migration it is refused";
}

// Format 1 told the way of a reading in `below` and ignored its `active_high`; what such a file meant stays what it means.
TEST(ProjectFile, polarityHasOneFieldSinceFormatTwo) {
    Json old = toJson(test::demoProject());
    old["format"] = 1;
    old["inputs"] = Json::array();
    const auto input = [&](const char* id, const char* kind, bool high, bool below) {
        old["inputs"].push_back({{"id", id}, {"name", id}, {"kind", kind}, {"active_high", high}, {"below", below}});
    };
    input("closed", "button", false, false), input("open", "float-switch", true, false);
    input("full", "level", false, false), input("empty", "level", false, true), input("odd", "tach", true, true);
    const auto document = fromText(old.dump(), "test");
    ASSERT_TRUE(document) << sentence(document.error());
    const auto high = [&](const char* id) { return project::activeHigh(*project::findInput(document->project, id)); };
    EXPECT_FALSE(high("closed")) << "a contact to ground is true while low";
    EXPECT_TRUE(high("open"));
    EXPECT_TRUE(high("full")) << "a reading was true from its upper level on, whatever active_high said";
    EXPECT_FALSE(high("empty"));
    EXPECT_FALSE(high("odd"));
    EXPECT_EQ(toText(*document).find("\"below\""), std::string::npos) << "it has no second home";
}

// Format 2 let a channel have a pin for its tach that nothing read; in format 3 it is an input that belongs to the channel.
TEST(ProjectFile, aTachIsAnInputSinceFormatThree) {
    Json old = toJson(test::exampleProject("paper-moon-stage"));
    old["format"] = 2;
    old["inputs"] = Json::array({Json{{"id", "spin"}, {"name", "Spin"}, {"kind", "tach"}, {"pin", "D3"}}});
    old["channels"][0]["tach_pin"] = "D2";
    old["channels"][1]["tach_pin"] = "D3";
    old["channels"][2]["tach_pin"] = "";
    const auto document = fromText(old.dump(), "test");
    ASSERT_TRUE(document) << sentence(document.error());
    const auto& project = document->project;
    ASSERT_EQ(project.inputs.size(), 2U);
    EXPECT_EQ(project.inputs[0].belongs_to, project.channels[1].id) << "the input that was there stays the only one on its pin";
    EXPECT_EQ(project.inputs[1].belongs_to, project.channels[0].id);
    EXPECT_EQ(project.inputs[1].pin, "D2");
    EXPECT_EQ(project.inputs[1].kind, project::InputKind::Tach);
    EXPECT_FALSE(project::activeHigh(project.inputs[1])) << "true while it stands still";
    EXPECT_EQ(toText(*document).find("tach_pin"), std::string::npos) << "it has no second home";
}

struct Bad {
    const char* name;
    const char* text;
    const char* field;
};
const Bad bad[] = {
    {"Empty", "", "f"},
    {"NotJson", "{\"format\": 1, \"brief\": ", "f"},
    {"NoFormat", "{}", "f"},
    {"FormatIsText", "{\"format\": \"1\"}", "f"},
    {"WrongType", "{\"format\": 1, \"brief\": [1]}", "f: brief"},
    {"WrongUnit", "{\"format\": 1, \"sources\": [{\"id\": \"a\", \"voltage\": \"12 A\"}]}", "f: sources/0/voltage"},
    {"NegativeVolts", "{\"format\": 1, \"sources\": [{\"id\": \"a\", \"voltage\": \"-12 V\"}]}", "f: sources/0/voltage"},
    {"TwiceTheSameId", "{\"format\": 1, \"channels\": [{\"id\": \"a\"}, {\"id\": \"a\"}]}", "f: channels/1/id"},
    {"NoId", "{\"format\": 1, \"channels\": [{\"name\": \"a\"}]}", "f: channels/0/id"},
    {"HostileId", "{\"format\": 1, \"channels\": [{\"id\": \"a/../b\"}]}", "f: channels/0/id"},
    {"UnknownChoice", "{\"format\": 1, \"board\": {\"form\": \"abacus\"}}", "f: board/form"},
    {"TwentyFiveOClock", "{\"format\": 1, \"routine\": {\"cues\": [{\"id\": \"c\", \"times\": \"25:00\"}]}}", "f: routine/cues/0/times"},
    {"NotANumber", "{\"format\": 1, \"brief\": {\"hour_value\": 1e999}}", "f"},
};
class BadProjects : public testing::TestWithParam<Bad> {};
TEST_P(BadProjects, areRefusedNamingThePlace) {
    const auto document = fromText(GetParam().text, "f");
    ASSERT_FALSE(document);
    EXPECT_EQ(document.error().field, GetParam().field) << sentence(document.error());
}
INSTANTIATE_TEST_SUITE_P(Table, BadProjects, testing::ValuesIn(bad), [](const auto& row) { return std::string{row.param.name}; });

TEST(ProjectFile, deepNestingIsRefusedAndNotFollowed) {
    const std::string deep = "{\"format\": 1, \"x\": " + std::string(100000, '[') + std::string(100000, ']') + "}";
    EXPECT_FALSE(fromText(deep, "f"));
}

TEST(Autosave, isOfferedOnlyWhenNewer) {
    test::TemporaryFolder folder;
    Document document;
    document.project = test::demoProject();
    ASSERT_TRUE(save(document, folder.path()));
    EXPECT_FALSE(recoverable(folder.path()));
    document.project.brief.name = "changed";
    ASSERT_TRUE(files::writeWhole(folder.path() / autosave_file, toText(document)));
    const auto back = recoverable(folder.path());
    ASSERT_TRUE(back);
    EXPECT_EQ(back->project.brief.name, "changed");
    ASSERT_TRUE(save(document, folder.path()));
    EXPECT_FALSE(recoverable(folder.path())) << "a save takes it away";
}

TEST(Schema, namesEveryFieldOfTheFile) {
    const Json schema = projectSchema();
    const Json demo = toJson(test::demoProject());
    for (const auto& [key, value] : demo.items()) EXPECT_TRUE(schema["properties"].contains(key)) << key;
    const auto published = files::readWhole(HINGE_SOURCE_DIR "/docs/schemas/project.json");
    ASSERT_TRUE(published) << sentence(published.error());
    EXPECT_EQ(Json::parse(*published), schema) << "docs/schemas/project.json is made by 'hinge-spark-cli schema'; make it again";
}

// One fact by its path is the very one of the list.
TEST(Facts, byPathAreThoseOfTheList) {
    for (const char* name :
         {"paper-moon-stage", "proofing-box", "tightrope-rider", "cloud-chamber-door", "greenhouse-kettle", "snail-hour"}) {
        const auto project = test::exampleProject(name);
        const auto all = project::facts(project);
        EXPECT_GT(all.size(), 100U);
        for (const auto& each : all) {
            const auto one = project::fact(project, each.path);
            ASSERT_TRUE(one) << each.path;
            EXPECT_EQ(one->path, each.path);
            EXPECT_EQ(one->text, each.text) << each.path;
            EXPECT_EQ(one->exact, each.exact) << each.path;
            EXPECT_EQ(one->label, each.label) << each.path;
            EXPECT_EQ(one->spread, each.spread) << each.path;
        }
        for (const char* none : {"", "brief", "channels", "channels/rain", "channels/nobody/pin", "brief/name/more", "brief/nam"})
            EXPECT_FALSE(project::fact(project, none)) << none;
    }
}

}  // namespace
}  // namespace hinge::store
