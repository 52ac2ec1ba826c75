"""The Selling step: orders, packing, parcels, supplies."""
