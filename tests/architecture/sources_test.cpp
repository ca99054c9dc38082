// Every source that a step or a comment names stands in docs/sources.md, and every working has one.
#include <gtest/gtest.h>
#include <filesystem>
#include <fstream>
#include <regex>
#include <set>
#include <sstream>
#include "plan/workings.hpp"

namespace hinge {
namespace {

namespace fs = std::filesystem;

std::string whole(const fs::path& file) {
    std::ifstream in(file);
    std::ostringstream text;
    text << in.rdbuf();
    return text.str();
}

std::set<std::string> known() {
    std::set<std::string> keys;
    const std::string text = whole(HINGE_SOURCE_DIR "/docs/sources.md");
    const std::regex row(R"(\| `([a-z0-9-]+)` \|)");
    for (std::sregex_iterator at(text.begin(), text.end(), row), end; at != end; ++at) keys.insert((*at)[1]);
    return keys;
}

bool isFreeForm(const std::string& source) {
    return source.starts_with("derived:") || source.find("common practice, no published source") != std::string::npos ||
           source.find("data sheets of the families") != std::string::npos;
}

void expectKnown(const std::set<std::string>& keys, const std::string& source, const std::string& where) {
    if (isFreeForm(source)) return;
    std::istringstream parts(source);
    std::string key;
    while (std::getline(parts, key, ';')) {
        while (!key.empty() && key.front() == ' ') key.erase(0, 1);
        EXPECT_TRUE(keys.count(key) > 0) << "'" << key << "' of " << where << " is not in docs/sources.md";
    }
}

TEST(Sources, ofEveryWorkingAreKnown) {
    const auto keys = known();
    ASSERT_GT(keys.size(), 15U);
    for (const auto& form : plan::allWorkings()) {
        EXPECT_FALSE(form->source.empty()) << form->name;
        EXPECT_FALSE(form->formula.empty()) << form->name << " has no rule for its help";
        expectKnown(keys, form->source, form->name);
    }
}

TEST(Sources, inCommentsAreKnown) {
    const auto keys = known();
    const std::regex tag(R"(@source ([^\n]+))");
    int found = 0;
    for (const auto& entry : fs::recursive_directory_iterator(HINGE_SOURCE_DIR "/core")) {
        if (entry.path().extension() != ".hpp") continue;
        const std::string text = whole(entry.path());
        for (std::sregex_iterator at(text.begin(), text.end(), tag), end; at != end; ++at) {
            ++found;
            std::string source = (*at)[1];
            if (isFreeForm(source)) continue;
            std::istringstream words(source);
            std::string word;
            while (words >> word) {
                if (word.find_first_of("0123456789") == std::string::npos && word.find('-') == std::string::npos) continue;
                while (!word.empty() && (word.back() == ',' || word.back() == ';')) word.pop_back();
                if (std::regex_match(word, std::regex("[a-z0-9]+(-[a-z0-9]+)+")))
                    EXPECT_TRUE(keys.count(word) > 0) << word << " in " << entry.path();
            }
        }
    }
    EXPECT_GT(found, 20);
}

// Every public calculation that answers with a working names its source.
TEST(Sources, standAtEveryWorkedFunction) {
    for (const auto& entry : fs::recursive_directory_iterator(HINGE_SOURCE_DIR "/core")) {
        if (entry.path().extension() != ".hpp") continue;
        const std::string text = whole(entry.path());
        const std::regex declaration(R"(\[\[nodiscard\]\] Result<Worked<\w+>> (\w+)\()");
        for (std::sregex_iterator at(text.begin(), text.end(), declaration), end; at != end; ++at) {
            const auto before = text.substr(0, static_cast<std::size_t>(at->position()));
            const auto comment = before.substr(before.rfind("\n\n") == std::string::npos ? 0 : before.rfind("\n\n"));
            const auto block = before.substr(before.rfind("};") == std::string::npos ? 0 : before.rfind("};"));
            EXPECT_TRUE(comment.find("@source") != std::string::npos || block.find("@source") != std::string::npos)
                << (*at)[1] << " in " << entry.path();
        }
    }
}

}  // namespace
}  // namespace hinge
