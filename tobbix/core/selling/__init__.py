"""Selling: how a parcel is packed."""
