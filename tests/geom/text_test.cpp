#include "yardpass/geom/text.h"

#include <gtest/gtest.h>

#include "support/rng.h"

namespace yardpass {
namespace {

TEST(Text, OneLineIsValidUtf8WithoutControlCharacters) {
  EXPECT_EQ(one_line("finish the blade"), "finish the blade");
  EXPECT_EQ(one_line("finish (left) \xc3\xa9 \xe2\x82\xac \xf0\x9f\x9a\xa2"),
            "finish (left) \xc3\xa9 \xe2\x82\xac \xf0\x9f\x9a\xa2");
  EXPECT_EQ(one_line("a\nb\tc\x1b[31m\x7f"), "a?b?c?[31m?");
  EXPECT_EQ(one_line("\xc2\x9b"
                     "1m"),
            "?1m")
      << "the other range of controls";
  EXPECT_EQ(one_line("\xff\xc3"), "??") << "no UTF-8, and a character cut off";
  EXPECT_EQ(one_line("\xc0\x80\xed\xa0\x80\xf4\x90\x80\x80"), "?????????")
      << "overlong, surrogate, too large";
}

TEST(Text, AnyBytesBecomeALineThatStaysAsItIs) {
  testing::Rng rng(3);
  for (int round = 0; round < testing::rounds(2000); ++round) {
    std::string bytes;
    for (int i = rng.pick(12); i >= 0; --i) bytes += static_cast<char>(rng.pick(256));
    const std::string line = one_line(bytes);
    EXPECT_EQ(one_line(line), line);
    EXPECT_EQ(line.find('\n'), std::string::npos);
    for (std::size_t n = 1; n < 6; ++n) {
      const std::string shorter = shortened(line, n);
      EXPECT_LE(character_count(shorter), n);
      EXPECT_EQ(one_line(shorter), shorter) << "cut between characters";
    }
  }
  EXPECT_EQ(shortened("paddle", 6), "paddle");
  EXPECT_EQ(shortened("paddles", 6), "paddl\u2026");
}

TEST(Text, ShortNumbers) {
  EXPECT_EQ(short_number(6), "6");
  EXPECT_EQ(short_number(0.25), "0.25");
  EXPECT_EQ(short_number(-12.5), "-12.5");
  EXPECT_EQ(short_number(1e6), "1000000");
  EXPECT_EQ(short_number(2.5e-5), "0.000025");
  EXPECT_EQ(short_number(1e-9), "0");
}

}  // namespace
}  // namespace yardpass
