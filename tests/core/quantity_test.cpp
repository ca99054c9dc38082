#include <gtest/gtest.h>
#include <rapidcheck.h>
#include <cmath>
#include <map>
#include <thread>
#include "quantity/csv.hpp"
#include "quantity/fnv.hpp"
#include "quantity/latin.hpp"
#include "quantity/roots.hpp"
#include "quantity/series.hpp"
#include "quantity/text.hpp"
#include "quantity/units.hpp"

namespace hinge {
namespace {

struct Factor {
    Kind kind;
    const char* text;
    double si;
    const char* source;
};
// Exact by definition (NIST SP 811, from memory) or by the definition named.
const Factor factors[] = {
    {Kind::Length, "1 in", 0.0254, "inch, 1959 agreement"},
    {Kind::Length, "1mil", 25.4e-6, "a thousandth of an inch"},
    {Kind::Mass, "1 lb", 0.45359237, "pound, 1959 agreement"},
    {Kind::Force, "1 kgf", 9.80665, "standard gravity, CGPM 1901"},
    {Kind::Force, "1 lbf", 4.4482216152605, "pound times standard gravity"},
    {Kind::Torque, "1 kgf cm", 0.0980665, "standard gravity"},
    {Kind::Torque, "1kgcm", 0.0980665, "trade name of kgf·cm"},
    {Kind::Torque, "1 ozf in", 0.45359237 * 9.80665 / 16 * 0.0254, "pound, inch, gravity"},
    {Kind::Pressure, "1 psi", 6894.757293168361, "lbf per square inch"},
    {Kind::Pressure, "1 mmH2O", 9.80665, "water of 1000 kg/m³, by convention"},
    {Kind::VolumeFlow, "1 cfm", std::pow(0.3048, 3) / 60, "cubic foot a minute"},
    {Kind::VolumeFlow, "1.5 L/min", 2.5e-5, "litre, CGPM 1964"},
    {Kind::RotationSpeed, "60 rpm", 6.283185307179586, "one turn a second"},
    {Kind::Angle, "90 deg", 1.5707963267948966, "quarter turn"},
    {Kind::Angle, "90\xC2\xB0", 1.5707963267948966, "quarter turn"},
    {Kind::Charge, "1 Ah", 3600.0, "ampere hour"},
    {Kind::Energy, "1 Wh", 3600.0, "watt hour"},
    {Kind::Temperature, "25 degC", 298.15, "Celsius scale"},
    {Kind::Temperature, "77 degF", 298.15, "Fahrenheit scale"},
    {Kind::TemperatureDifference, "10 degC", 10.0, "a difference has no offset"},
    {Kind::Resistance, "4.7k", 4700.0, "bare prefix"},
    {Kind::Capacitance, "22n", 22e-9, "bare prefix"},
    {Kind::Capacitance,
     "10\xC2\xB5"
     "F",
     10e-6, "micro sign U+00B5"},
    {Kind::Capacitance,
     "10\xCE\xBC"
     "F",
     10e-6, "Greek mu U+03BC"},
    {Kind::Resistance, "10\xCE\xA9", 10.0, "Greek omega"},
    {Kind::Length, "2m", 2.0, "a bare m is metre, not milli"},
    {Kind::Fraction, "25 %", 0.25, "percent"},
    {Kind::Duration, "2 min", 120.0, "minute"},
};
TEST(Units, convertByTheirDefinitions) {
    for (const auto& f : factors) {
        const auto value = parseQuantity(f.kind, f.text);
        ASSERT_TRUE(value) << f.text << ": " << sentence(value.error());
        EXPECT_NEAR(*value, f.si, std::abs(f.si) * 1e-12) << f.text << ", " << f.source;
    }
}

// Every unit of every kind is tried on every other: it must be refused, or mean the same in both.
TEST(Units, decideByKindAndNotByDimension) {
    const auto allowed = [](Kind kind, const std::string& unit) {
        // Units that two kinds rightly share: both are the same measure.
        const bool temperature = kind == Kind::Temperature || kind == Kind::TemperatureDifference;
        if (temperature) return unit == "K" || unit == "degC" || unit == "degF" || unit == "celsius";
        if (kind == Kind::Ratio || kind == Kind::Count) return unit == "steps";
        return false;
    };
    for (int a = 0; a < kindCount; ++a)
        for (const auto& unit : unitsOf(static_cast<Kind>(a)))
            for (int b = 0; b < kindCount; ++b) {
                if (a == b) continue;
                const bool taken = unitScale(static_cast<Kind>(b), unit).has_value();
                if (taken)
                    EXPECT_TRUE(allowed(static_cast<Kind>(a), unit) && allowed(static_cast<Kind>(b), unit))
                        << unit << " is taken by " << kindName(static_cast<Kind>(a)) << " and by " << kindName(static_cast<Kind>(b));
            }
}

TEST(Units, refuseWhatOnlyTheDimensionAllows) {
    EXPECT_FALSE(parseQuantity(Kind::RotationSpeed, "50 Hz"));
    EXPECT_FALSE(parseQuantity(Kind::Frequency, "50 rpm"));
    EXPECT_FALSE(parseQuantity(Kind::Frequency, "50 rad/s"));
    EXPECT_FALSE(parseQuantity(Kind::Torque, "5 J"));
    EXPECT_FALSE(parseQuantity(Kind::Energy, "5 N.m"));
    EXPECT_FALSE(parseQuantity(Kind::Angle, "5 %"));
    const auto mass = parseQuantity(Kind::Force, "1.4kg");
    ASSERT_FALSE(mass);
    EXPECT_NE(mass.error().accepted.find("kgf"), std::string::npos) << "suggests kgf";
    const auto cold = parseQuantity(Kind::Temperature, "25");
    ASSERT_FALSE(cold);
    EXPECT_NE(cold.error().accepted.find("25degC"), std::string::npos);
}

TEST(Numbers, areDecimalAndNothingElse) {
    for (const char* good : {"1", "-1.5", "+2", ".5", "5.", "1e3", "1E-3", " 7 "}) EXPECT_TRUE(parseNumber(good)) << good;
    for (const char* bad : {"", " ", "1,5", "0x10", "1_000", "nan", "inf", "-inf", "1e999", "1e", "--1", "1 2", "e5", "."})
        EXPECT_FALSE(parseNumber(bad)) << bad;
    EXPECT_FALSE(parseQuantity(Kind::Count, "1.5"));
}

TEST(Text, exactTextReadsBackTheSameDouble) {
    rc::check("any finite value of any kind", [] {
        const auto kind = static_cast<Kind>(*rc::gen::inRange(0, kindCount));
        const double mantissa = *rc::gen::inRange(-999999999, 999999999) / 1e9;
        double value = mantissa * std::pow(10.0, *rc::gen::inRange(-12, 12));
        if (kind == Kind::Temperature) value = 250.0 + std::abs(mantissa) * 200.0;
        if (kind == Kind::Count) value = std::floor(mantissa * 1000);
        const auto back = parseQuantity(kind, exactText(kind, value));
        RC_ASSERT(back.has_value());
        if (kind == Kind::Temperature) RC_ASSERT(std::abs(*back - value) < 1e-9);
        else RC_ASSERT(*back == value);
    });
}

TEST(Text, whatIsDisplayedCanBeTypedBack) {
    rc::check("three digits survive", [] {
        const auto kind = static_cast<Kind>(*rc::gen::inRange(0, kindCount));
        if (kind == Kind::Count || kind == Kind::Temperature) return;
        const double value = (*rc::gen::inRange(100, 999)) / 100.0 * std::pow(10.0, *rc::gen::inRange(-6, 5));
        const auto back = parseQuantity(kind, display(kind, value));
        RC_ASSERT(back.has_value());
        RC_ASSERT(std::abs(*back - value) <= 0.0051 * value);
    });
}

TEST(Text, suitsTheSizeOfTheNumber) {
    EXPECT_EQ(display(Kind::Current, 0.4182), "418 mA");
    EXPECT_EQ(display(Kind::VolumeFlow, 1.1e-3 / 60), "1.10 L/min");
    EXPECT_EQ(displayPlain(Kind::Length, 0.45), "450 mm");
    EXPECT_EQ(display(Kind::Temperature, 298.15),
              "25 \xC2\xB0"
              "C");
    EXPECT_EQ(display(Kind::Torque, 0.42), "0.420 N\xC2\xB7m");
}

// IEC 60063, the values of E24 as printed in the standard (from memory), and single values of E96 and E192.
TEST(Series, holdTheValuesOfIec60063) {
    const double e24[] = {1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0,
                          3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2, 9.1};
    const auto list = mantissas(Series::E24);
    ASSERT_EQ(list.size(), 24U);
    for (std::size_t i = 0; i < 24; ++i) EXPECT_EQ(list[i], e24[i]);
    const auto holds = [](Series series, double value) {
        for (const double m : mantissas(series))
            if (m == value) return true;
        return false;
    };
    for (const double value : {1.00, 1.02, 1.05, 1.47, 4.99, 6.04, 9.76}) EXPECT_TRUE(holds(Series::E96, value)) << value;
    for (const double value : {1.01, 4.93, 9.20, 9.88}) EXPECT_TRUE(holds(Series::E192, value)) << value;
    EXPECT_FALSE(holds(Series::E192, 9.19)) << "the standard prints 9.20 there";
    EXPECT_EQ(mantissas(Series::E48).size(), 48U);
    EXPECT_EQ(mantissas(Series::E6).size(), 6U);
}

TEST(Series, roundAsTheContractSays) {
    EXPECT_EQ(preferred(4700, Series::E12, Round::Up), 4700) << "an equal value counts as the next higher";
    EXPECT_EQ(preferred(4700, Series::E12, Round::Down), 4700);
    EXPECT_EQ(preferred(4701, Series::E12, Round::Up), 5600);
    EXPECT_EQ(preferred(9.5, Series::E12, Round::Up), 10);
    EXPECT_EQ(preferred(0.9, Series::E3, Round::Up), 1.0);
    EXPECT_EQ(preferred(1.1, Series::E12, Round::Nearest), 1.0) << "a tie goes to the lower";
    rc::check("up and down enclose the value", [] {
        const double value = *rc::gen::inRange(1, 1000000) / 997.0;
        const auto series = static_cast<Series>(*rc::gen::inRange(0, 7));
        RC_ASSERT(preferred(value, series, Round::Up) >= value * (1 - 1e-9));
        RC_ASSERT(preferred(value, series, Round::Down) <= value * (1 + 1e-9));
        RC_ASSERT(preferred(value, series, Round::Up) / preferred(value, series, Round::Down) < 2.3);
    });
}

// cos x = x: 0.739085133215160641…, OEIS A003957; x² = 2: its square root; both to the last bits of a double.
TEST(Roots, areFoundToTheLastBits) {
    EXPECT_NEAR(crossing([](double x) { return std::cos(x) - x; }, 0.0, 2.0), 0.73908513321516064, 2e-16);
    EXPECT_NEAR(crossing([](double x) { return 2.0 - x * x; }, 0.0, 1e6), 1.4142135623730951, 5e-16);
    int asked = 0;
    (void)crossing([&](double x) { return ++asked, std::exp(x) - 10.0; }, -100.0, 100.0);
    EXPECT_LT(asked, 40) << "halving takes more than fifty";
}

TEST(Roots, sayWhatTheyDoWithoutOne) {
    EXPECT_EQ(crossing([](double x) { return x + 1.0; }, 0.0, 5.0), 0.0) << "one sign: the end nearer to 0";
    EXPECT_EQ(crossing([](double x) { return -x - 1.0; }, -9.0, -7.0), -7.0);
    EXPECT_EQ(crossing([](double x) { return x; }, 0.0, 5.0), 0.0) << "an end that is one";
    EXPECT_EQ(crossing([](double x) { return x - 5.0; }, 0.0, 5.0), 5.0);
    EXPECT_EQ(crossing([](double) { return std::nan(""); }, 3.0, 5.0), 3.0) << "no number: the lower end";
    EXPECT_EQ(crossing([](double x) { return x > 4.0 ? 1.0 : -1.0; }, 3.0, 3.0), 3.0) << "nothing between";
    EXPECT_NEAR(crossing([](double x) { return x > 4.0 ? 1.0 : -1.0; }, 3.0, 9.0), 4.0, 1e-14) << "a jump is where it jumps";
}

// What a spreadsheet would run as a formula begins with an apostrophe; a number, with its sign, stays one.
// BGN/PCGN 1947 for Russian without its softening signs, ELOT 743, the Revised Romanization of Korean, Hepburn, Hanyu Pinyin
// without tones: from memory.
TEST(Latin, isWrittenFromEveryScript) {
    for (const auto& [text, latin] : std::map<std::string, std::string>{{"Moon arm", "Moon arm"},
                                                                        {"Салазки", "Salazki"},
                                                                        {"Лунная мышь", "Lunnaya mysh"},
                                                                        {"Πόρτα", "Porta"},
                                                                        {"Tür", "Tur"},
                                                                        {"Straße", "Strasse"},
                                                                        {"Çok ışık", "Cok isik"},
                                                                        {"ドア", "doa"},
                                                                        {"문", "mun"},
                                                                        {"月", "yue"},
                                                                        {"Mond 🌙", "Mond 🌙"},
                                                                        {"", ""}})
        EXPECT_EQ(inLatin(text), latin);
    EXPECT_EQ(inLatin("\xFF\xC3"), inLatin("\xFF\xC3")) << "what is no UTF-8 is borne";
    std::vector<std::thread> threads;
    for (int k = 0; k < 4; ++k)
        threads.emplace_back([] {
            for (int i = 0; i < 200; ++i) EXPECT_EQ(inLatin("Салазки"), "Salazki");
        });
    for (auto& thread : threads) thread.join();
}

// Test vectors of the IETF draft "The FNV Non-Cryptographic Hash Algorithm", from memory.
TEST(Fnv, isThatOfItsDraft) {
    EXPECT_EQ(fnv32(""), 0x811c9dc5u);
    EXPECT_EQ(fnv32("a"), 0xe40c292cu);
    EXPECT_EQ(fnv32("foobar"), 0xbf9cf968u);
    EXPECT_EQ(fnv64(""), 0xcbf29ce484222325u);
    EXPECT_EQ(fnv64("a"), 0xaf63dc4c8601ec8cu);
    EXPECT_EQ(fnv64("foobar"), 0x85944171f73967e8u);
}

TEST(Csv, aTextForASpreadsheetIsNoFormula) {
    for (const auto& [text, safe] : std::map<std::string, std::string>{{"=1+1", "'=1+1"},
                                                                       {"@now", "'@now"},
                                                                       {"+door", "'+door"},
                                                                       {"-door", "'-door"},
                                                                       {"=a,b", "\"'=a,b\""},
                                                                       {"-5", "-5"},
                                                                       {"+0.5e-3", "+0.5e-3"},
                                                                       {"-", "'-"},
                                                                       {"Rain", "Rain"},
                                                                       {"a=b", "a=b"},
                                                                       {"", ""}}) {
        EXPECT_EQ(csvText(text), safe);
        EXPECT_EQ(fromCsvText(csvFields(csvText(text)).front()), text);
    }
    EXPECT_EQ(fromCsvText("'quoted'"), "'quoted'") << "an apostrophe of its own stays";
}
// As spreadsheets write them: a byte-order mark, semicolons, ends of line of either kind.
TEST(Csv, isReadAsSpreadsheetsWriteIt) {
    const std::vector<CsvRow> wanted{{"time", "value"}, {"1", "a"}, {"2", "b; c"}};
    for (const char* text : {"time,value\n1,a\n2,b; c\n", "time,value\r\n1,a\r\n2,b; c\r\n", "\xEF\xBB\xBFtime,value\n1,a\n2,b; c",
                             "\xEF\xBB\xBFtime;value\r\n1;a\r\n2;\"b; c\"\r\n"}) {
        const auto rows = csvRows(text, "test");
        ASSERT_TRUE(rows) << text;
        EXPECT_EQ(*rows, wanted) << text;
    }
}

}  // namespace
}  // namespace hinge
