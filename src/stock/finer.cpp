#include "yardpass/stock/finer.h"

#include <algorithm>

namespace yardpass {

Stock finer(const Stock& stock, const Box2& box, double cell_mm) {
  Stock result(Box3(with_z(box.min(), stock.block().min().z()), with_z(box.max(), stock.block().max().z())),
               cell_mm);
  const Vec2 origin = plan(stock.block().min());
  for (int row = 0; row < result.rows(); ++row)
    for (int column = 0; column < result.columns(); ++column) {
      const Vec2 at = (result.centre(column, row) - origin) / stock.cell_mm();
      result.set_height(column, row,
                        stock.height(std::clamp(static_cast<int>(at.x()), 0, stock.columns() - 1),
                                     std::clamp(static_cast<int>(at.y()), 0, stock.rows() - 1)));
    }
  return result;
}

}  // namespace yardpass
