"""An optional second factor: a code by time (TOTP, RFC 6238) from an app, and recovery codes for when it is lost."""

from io import BytesIO

import qrcode
import qrcode.image.svg
from django.contrib.auth.models import User
from django.db import transaction
from django_otp.plugins.otp_static.models import StaticDevice, StaticToken
from django_otp.plugins.otp_totp.models import TOTPDevice

#: Recovery codes given at once; each counts once.
RECOVERY_CODES = 8


def is_on(user: User) -> bool:
    """Whether the person signs in with a second factor."""
    return bool(TOTPDevice.objects.filter(user=user, confirmed=True).exists())


def verify(user: User, code: str) -> bool:
    """Whether a code of the app (digits) or a recovery code is right. After a wrong one the next try waits, by the packages' rule."""
    code = code.strip().replace(" ", "")
    with transaction.atomic():
        devices = (TOTPDevice if code.isdigit() else StaticDevice).objects.filter(user=user, confirmed=True)
        return any(bool(device.verify_is_allowed()[0]) and bool(device.verify_token(code)) for device in devices)


def begin(user: User) -> tuple[str, str]:
    """A new secret that is not in force yet: its address for an app, and that as a picture (SVG)."""
    TOTPDevice.objects.filter(user=user, confirmed=False).delete()
    device = TOTPDevice.objects.create(user=user, name="Tin Saddle", confirmed=False)
    out = BytesIO()
    qrcode.make(device.config_url, image_factory=qrcode.image.svg.SvgPathImage).save(out)
    return device.config_url, out.getvalue().decode()


def confirm(user: User, code: str) -> list[str] | None:
    """Put the new secret in force with a code of it. Returns recovery codes, None where the code is wrong."""
    device = TOTPDevice.objects.filter(user=user, confirmed=False).first()
    if device is None or not device.verify_token(code.strip().replace(" ", "")):
        return None
    with transaction.atomic():
        off(user)
        device.confirmed = True
        device.save()
        kept = StaticDevice.objects.create(user=user, name="Recovery")
        codes = [StaticToken.random_token() for _ in range(RECOVERY_CODES)]
        StaticToken.objects.bulk_create(StaticToken(device=kept, token=code) for code in codes)
    return codes


def off(user: User) -> None:
    """No second factor any more."""
    TOTPDevice.objects.filter(user=user, confirmed=True).delete()
    StaticDevice.objects.filter(user=user).delete()
