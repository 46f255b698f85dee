"""Passwords: the rules, and resetting one by mail."""

from django.conf import settings
from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.contrib.auth.tokens import default_token_generator
from django.core.exceptions import ValidationError
from django.core.mail import send_mail
from django.utils.encoding import force_bytes
from django.utils.http import urlsafe_base64_decode, urlsafe_base64_encode

from config.errors import Refused


def set_password(user: User, new: str) -> None:
    """Give somebody a password that keeps the rules. Raises Refused 400 with what is wrong with it."""
    try:
        validate_password(new, user)
    except ValidationError as error:
        raise Refused(400, " ".join(error.messages), "password", "choose another one") from None
    user.set_password(new)
    user.save(update_fields=["password"])


def send_reset(name: str, address: str) -> None:
    """Mail a link to whoever has the name or mail address, if there is one; address: of the product, as the browser knows it."""
    for user in User.objects.filter(is_active=True, username=name) | User.objects.filter(is_active=True, email__iexact=name):
        if user.email:
            who = urlsafe_base64_encode(force_bytes(user.pk))
            link = f"{address}/reset?who={who}&token={default_token_generator.make_token(user)}"
            hours = settings.PASSWORD_RESET_TIMEOUT // 3600
            words = f"Somebody asked for a new password for {user.username}.\n\nSet it within {hours} hours at:\n{link}\n"
            send_mail("Tin Saddle: a new password", words, None, [user.email])


def whose(who: str, token: str) -> User:
    """The person a link was made for. Raises Refused 400 where it is none, too old, or was used."""
    try:
        user = User.objects.filter(pk=int(urlsafe_base64_decode(who))).first()
    except (ValueError, OverflowError):
        user = None
    if user is None or not default_token_generator.check_token(user, token):
        raise Refused(400, "this link is too old, was used, or is none", "link", "ask for a new one")
    return user
