"""Charts as analysts call them: how one begins, its stages, bare verdicts, comparisons."""
