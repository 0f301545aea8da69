"""The Book: records, certificates, history."""
