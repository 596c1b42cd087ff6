"""The preview, served on this machine and drawn again whenever the plan is saved."""
