"""Why a stated volume or mass does not agree: suspects, each built and measured, the likeliest first."""
