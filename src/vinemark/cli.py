"""The command line: each command is loaded only when it is asked for."""

from importlib import import_module

import click

from vinemark.settings import SETTINGS

COMMANDS = {
    "serve": "serve:serve",
    "office": "office:office",
    "mail": "mail:mail_server",
    "identity": "identity:identity",
    "looked": "looked:looked",
    "user": "user:user",
    "new-password": "user:new_password",
    "close-account": "user:close_account",
    "compute": "compute:compute",
    "audit": "audit:audit_command",
    "read-syllabus": "read_syllabus:read_syllabus_file",
    "read-table": "read_table:read_table_file",
    "verify": "verify:verify",
    "backup": "backup:backup",
    "export-all": "export_all:export_all",
    "check": "check:check",
    "check-registrar": "check_registrar:check_registrar",
    "remove-old": "remove_old:remove_old",
    "restore": "backup:restore",
    "demo": "demo:demo",
    "security-log": "security_log:security_log",
}
"""Each command's module and function: one is loaded only when it is asked for, since the pages take a second."""


class LazyGroup(click.Group):
    """A group whose commands are loaded one at a time."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        """The names of all commands."""
        return sorted(COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        """One command, loaded; None where there is none of that name."""
        if cmd_name not in COMMANDS:
            return None
        module, _, name = COMMANDS[cmd_name].partition(":")
        command: click.Command = getattr(import_module(f"vinemark.commands.{module}"), name)
        return command

    def invoke(self, ctx: click.Context) -> object:
        """Run a command; a wrong setting, or a database that cannot be opened or written, is said with what to do."""
        try:
            return super().invoke(ctx)
        except Exception as error:
            said = import_module("vinemark.commands.unforeseen").said_of_unforeseen(error)
            if said:
                import_module("vinemark.commands.failing").fail(said)
            raise


@click.group(cls=LazyGroup, epilog="Settings come from the environment: " + ", ".join(s.name for s in SETTINGS) + ".")
@click.version_option(package_name="vinemark", message="Vine Mark %(version)s")
def main() -> None:
    """Vine Mark: from the grading part of a syllabus to the registrar's receipt."""


if __name__ == "__main__":
    main()
