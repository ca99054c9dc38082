#include <gtest/gtest.h>
#include <rapidcheck.h>
#include "link/protocol.hpp"

namespace hinge::link {
namespace {

TEST(Crc, hasThePublishedCheckValue) {
    // CRC-8, polynomial 0x07, no reflection: the check value over "123456789" is 0xF4 (catalogue of CRC algorithms, from memory).
    EXPECT_EQ(crc8("123456789"), 0xF4);
}

Telemetry sample(int n) {
    Telemetry t;
    t.sequence = static_cast<std::uint8_t>(n);
    t.time_ms = 0xA5A5A5A5u;  // the frame's own start byte inside
    t.clock_set = true;
    t.clock_ms = 86399999;
    t.inputs = 3;
    t.cues = 1;
    t.levels = {0xA5A5, 255};
    return t;
}

TEST(Decoder, takesBytesInAnyPieces) {
    rc::check("split at random places", [] {
        const auto count = *rc::gen::inRange(1, 8);
        std::string bytes;
        for (int i = 0; i < count; ++i) bytes += encode(sample(i)) + "ok rain_run 5\r\n";
        Decoder decoder;
        std::vector<Message> messages;
        std::size_t at = 0;
        while (at < bytes.size()) {
            const auto piece = static_cast<std::size_t>(*rc::gen::inRange(1, 9));
            for (auto& message : decoder.feed(std::string_view{bytes}.substr(at, piece))) messages.push_back(std::move(message));
            at += piece;
        }
        RC_ASSERT(messages.size() == static_cast<std::size_t>(2 * count));
        RC_ASSERT(std::get<Telemetry>(messages[0]) == sample(0));
        RC_ASSERT(decoder.lost() == 0U);
        RC_ASSERT(decoder.garbage() == 0U);
    });
}

TEST(Decoder, countsWhatIsLost) {
    Decoder decoder;
    static_cast<void>(decoder.feed(encode(sample(1)) + encode(sample(5))));
    EXPECT_EQ(decoder.lost(), 3U);
}

TEST(Decoder, findsItsWayBackAfterGarbage) {
    rc::check("a frame after any bytes is found", [](const std::string& noise) {
        Decoder decoder;
        static_cast<void>(decoder.feed(noise + "\n"));
        // A half frame in the noise may swallow the first; the third is always whole.
        int found = 0;
        for (int i = 0; i < 12; ++i)
            for (const auto& message : decoder.feed(encode(sample(i)))) found += std::holds_alternative<Telemetry>(message) ? 1 : 0;
        RC_ASSERT(found >= 6);
    });
}

TEST(Decoder, refusesAFrameWithOneBitWrong) {
    const std::string good = encode(sample(7));
    for (std::size_t byte = 2; byte < good.size(); ++byte)
        for (int bit = 0; bit < 8; ++bit) {
            std::string bad = good;
            bad[byte] = static_cast<char>(bad[byte] ^ (1 << bit));
            Decoder decoder;
            for (const auto& message : decoder.feed(bad + std::string(64, '\n')))
                EXPECT_FALSE(std::holds_alternative<Telemetry>(message)) << byte << ' ' << bit;
        }
}

}  // namespace
}  // namespace hinge::link
