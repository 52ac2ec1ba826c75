"""The attack: kills, hostile requests, hostile files and damaged backups against an instance of its own, on loopback.

``make attack`` runs it whole and prints its figures; the tests run a small part of each.
"""
