"""The ledger of signed records, certificates, import and export."""
