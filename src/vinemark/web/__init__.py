"""The web application: one blueprint for each step of the work."""

from vinemark.web.application import create_app, first_code, secret_is_another

__all__ = ["create_app", "first_code", "secret_is_another"]
