"""Selling: orders and packing supplies."""
