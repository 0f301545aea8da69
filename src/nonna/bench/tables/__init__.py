"""Tool tables in and out: CSV with columns mapped once, our JSON, cutting-tool assets of MTConnect."""
