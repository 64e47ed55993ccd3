// Bars against their formulas; saved stock comes back with the same bits, damaged files are refused.
#include "yardpass/stock/stock_shapes.h"

#include <gtest/gtest.h>

#include <bit>
#include <cmath>
#include <numbers>

#include "support/rng.h"
#include "support/scratch.h"

namespace yardpass {
namespace {

TEST(Bars, HaveTheirVolume) {
  const Stock upright = upright_bar({5, -3}, 40, -30, 2, 0.1);
  EXPECT_NEAR(upright.volume_mm3(), std::numbers::pi * 400 * 32, 0.05 * std::numbers::pi * 40 * 32);
  EXPECT_EQ(upright.height(0, 0), -30) << "no material in the corner";
  for (const BarAxis axis : {BarAxis::x, BarAxis::y}) {
    const Stock lying = lying_bar(axis, {0, 0, -10}, 40, 70, 0.1);
    // The upper half, and below its middle straight down.
    EXPECT_NEAR(lying.volume_mm3(), 70 * (std::numbers::pi * 200 + 40 * 20), 0.1 * 70 * 20);
    EXPECT_EQ(lying.block().min().z(), -30);
  }
  const Stock along = lying_bar(BarAxis::x, {0, 0, -10}, 40, 70, 0.1);
  const Vec2 p = along.centre(300, 350);
  EXPECT_NEAR(along.height(300, 350), -10 + std::sqrt(400 - p.y() * p.y()), 1e-12);
  EXPECT_THROW((void)upright_bar({0, 0}, 0, 0, 1, 0.1), Error);
}

class StockFile : public testing::ScratchFolder {
 protected:
  std::string message() {
    try {
      (void)read_stock(folder() / "stock.npy");
      return "accepted";
    } catch (const Error& error) {
      return error.what();
    }
  }
};

#define EXPECT_HAS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)

TEST_F(StockFile, ComesBackWithTheSameBits) {
  testing::Rng rng(3);
  Stock stock(Box3(Vec3(-10.1, 3.3, -20), Vec3(7.77, 12.345, 1.0 / 3)), 0.13);
  for (double& z : stock.heights()) z = rng.uniform(-20, 0.3);
  write_stock(folder() / "stock.npy", stock);
  const Stock back = read_stock(folder() / "stock.npy");
  ASSERT_EQ(back.columns(), stock.columns());
  ASSERT_EQ(back.rows(), stock.rows());
  EXPECT_EQ(back.block().min(), stock.block().min());
  EXPECT_EQ(back.block().max(), stock.block().max());
  EXPECT_EQ(back.cell_mm(), stock.cell_mm());
  for (std::size_t i = 0; i < stock.heights().size(); ++i)
    ASSERT_EQ(std::bit_cast<std::uint64_t>(back.heights()[i]),
              std::bit_cast<std::uint64_t>(stock.heights()[i]));
  EXPECT_EQ(contents(folder() / "stock.npy").size() % 64, (stock.heights().size() * 8) % 64)
      << "the header is padded to 64";
}

TEST_F(StockFile, DamagedFilesAreRefused) {
  EXPECT_HAS(message(), "cannot be opened");
  const Stock stock(Box3(Vec3(0, 0, -5), Vec3(4, 3, 0)), 0.5);
  write_stock(folder() / "stock.npy", stock);
  const std::string good = contents(folder() / "stock.npy"), frame = contents(folder() / "stock.frame");
  EXPECT_EQ(message(), "accepted");
  store(folder() / "stock.npy", good.substr(0, good.size() - 5));
  EXPECT_HAS(message(), "is cut off");
  store(folder() / "stock.npy", good + "x");
  EXPECT_HAS(message(), "longer than its header says");
  store(folder() / "stock.npy", "PK" + good);
  EXPECT_HAS(message(), "no NumPy array file");
  std::string floats = good;
  floats.replace(floats.find("<f8"), 3, "<f4");
  store(folder() / "stock.npy", floats);
  EXPECT_HAS(message(), "64-bit numbers");
  std::string high = good;
  const double ten = 10;
  std::memcpy(high.data() + high.size() - 8, &ten, 8);
  store(folder() / "stock.npy", high);
  EXPECT_HAS(message(), "outside bottom to top");
  store(folder() / "stock.npy", good);
  store(folder() / "stock.frame", "x = 0\ny = 0\ncell = 0.5\nbottom = -5\n");
  EXPECT_HAS(message(), "\"top\" is missing");
  store(folder() / "stock.frame", frame + "cell = many\n");
  EXPECT_HAS(message(), "must be KEY = NUMBER");
  store(folder() / "stock.frame", "x = 0\ny = 0\ncell = 0.25\nbottom = -5\ntop = 0\nx_end = 4\ny_end = 3\n");
  EXPECT_HAS(message(), "its frame asks for 12 x 16");
  std::filesystem::remove(folder() / "stock.frame");
  EXPECT_HAS(message(), "the frame of a stock lies beside its heights");
  EXPECT_THROW(write_stock(folder() / "none" / "stock.npy", stock), Error);
}

}  // namespace
}  // namespace yardpass
