"""Why a run goes wrong: a cause is what, when undone, makes the same starts go well."""
