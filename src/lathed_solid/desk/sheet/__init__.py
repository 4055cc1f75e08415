"""The callout sheet: the ledger as on an inspection form, on screen in every stage."""
