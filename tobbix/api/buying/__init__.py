"""The Buying step: purchases, parcels, rates, the most to bid, offers for collections."""
