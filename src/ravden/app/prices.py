"""What a litre of each finish costs here. No Qt."""

from __future__ import annotations

from collections.abc import Mapping

from ravden.journal.shop import Shop

LITRE_ML = 1000.0


def per_litre(shop: Shop) -> Mapping[str, float]:
    """By finish: what the can bought last that had a price cost, or else what was told by the litre."""
    out = dict(shop.prices)
    for lot in shop.stock.lots.values():
        product = shop.stock.products.get(lot.product)
        if product is not None and product.kind == "finish" and lot.price is not None:
            out[product.material] = lot.price / lot.ml * LITRE_ML
    return out
