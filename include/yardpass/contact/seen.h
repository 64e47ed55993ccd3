/// What of a part is seen from above.
#pragma once

#include <optional>

#include "yardpass/contact/contact_part.h"

namespace yardpass {

/// The least Z of what is seen from above: of facets that face up or stand upright, as far as nothing lies
/// over them. Looked for at their corners, at the middles of their sides and at their middles; so it may be
/// missed of a facet that is covered at all of these. Nothing if the part has no facet that is seen.
[[nodiscard]] std::optional<double> lowest_seen(const std::shared_ptr<const ContactPart>& part);

}  // namespace yardpass
