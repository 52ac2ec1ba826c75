"""Selling: orders and what they leave, how a parcel is packed, and parcels on their way."""
