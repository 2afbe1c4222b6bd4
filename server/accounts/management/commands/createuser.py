"""manage.py createuser NAME: an account. The password is asked for, or read from the first line of the input."""

import getpass
import sys
from argparse import ArgumentParser
from typing import Any

from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError


class Command(BaseCommand):
    help = "Make an account, or give an existing one a new password with --again."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("username")
        parser.add_argument("--first", default="", help="first name")
        parser.add_argument("--last", default="", help="last name")
        parser.add_argument("--password-stdin", action="store_true", help="read the password from the input")
        parser.add_argument("--again", action="store_true", help="a new password for an account that is there")

    def handle(self, *args: Any, **options: Any) -> None:
        username = options["username"]
        known = User.objects.filter(username=username).first()
        if known is not None and not options["again"]:
            raise CommandError(f"there is an account “{username}” already; --again gives it a new password")
        if known is None and options["again"]:
            raise CommandError(f"there is no account “{username}”")
        user = known or User(username=username, first_name=options["first"], last_name=options["last"])
        password = self._password(options["password_stdin"])
        try:
            validate_password(password, user)
            user.set_password(password)
            user.full_clean(exclude=["password"])
        except ValidationError as error:
            raise CommandError(" ".join(error.messages)) from error
        user.save()
        self.stdout.write(f"{username}: {'password changed' if known else 'account made'}")

    @staticmethod
    def _password(from_input: bool) -> str:
        if from_input or not sys.stdin.isatty():
            return sys.stdin.readline().rstrip("\n")
        first = getpass.getpass("Password: ")
        if first != getpass.getpass("Again: "):
            raise CommandError("the two passwords differ")
        return first
