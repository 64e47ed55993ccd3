// Tables as given, and values for people.
#include "yardpass/keys/given.h"

#include <gtest/gtest.h>

#include "yardpass/keys/quantity.h"

namespace yardpass {
namespace {

TEST(Given, HoldsWhatItWasMadeOfAndNothingElse) {
  const Given whole(3, 7), number(0.5), text("finish"), flag(true), list(GivenList{1, 2.5}, 9);
  EXPECT_EQ(whole.whole(), 3);
  EXPECT_EQ(whole.number(), 3.0) << "a whole number is a number";
  EXPECT_EQ(whole.line(), 7);
  EXPECT_EQ(number.number(), 0.5);
  EXPECT_FALSE(number.whole());
  EXPECT_FALSE(number.flag());
  EXPECT_EQ(text.text(), "finish");
  EXPECT_FALSE(text.is_number());
  EXPECT_EQ(flag.flag(), true);
  EXPECT_FALSE(flag.is_number()) << "a truth is no number";
  ASSERT_TRUE(list.list());
  EXPECT_EQ(list.list()->at(1).number(), 2.5);
  EXPECT_FALSE(list.table());
  EXPECT_FALSE(Given(Given::Other{"a date"}).text());
}

TEST(Given, TablesKeepTheirOrderAndCopiesAreTheirOwn) {
  GivenTable table(4);
  table.set("stepover", 0.3);
  table.set("angle", 45);
  table.set("stepover", 0.4);
  GivenTable inner;
  inner.set("top_of", "plate");
  table.set("bottom", Given(inner, 6));
  GivenTable copy = table;
  copy.set("angle", 90);
  copy.erase("stepover");
  std::string keys;
  for (const auto& [key, value] : table) keys += key + " ";
  EXPECT_EQ(keys, "stepover angle bottom ");
  EXPECT_EQ(table.get("stepover")->number(), 0.4);
  EXPECT_EQ(table.get("angle")->whole(), 45);
  EXPECT_EQ(table.get("bottom")->table()->get("top_of")->text(), "plate");
  EXPECT_EQ(table.line(), 4);
  EXPECT_FALSE(copy.contains("stepover"));
  EXPECT_EQ(copy.size(), 2u);
}

TEST(Quantity, KnowsItsUnit) {
  EXPECT_STREQ(name_of(length_of(2).unit), "mm");
  EXPECT_STREQ(name_of(number_of(2, Unit::mm_min).unit), "mm/min");
  EXPECT_STREQ(name_of(count_of(2).unit), "");
  EXPECT_EQ(place_at(1, 2, 3).value[2], 3);
}

}  // namespace
}  // namespace yardpass
