"""Blanks of a description form, set into sentences."""

from django import template
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString

from workshop.panels.description_form import BlankValue, DescriptionForm

register = template.Library()


@register.simple_tag
def blank(form: DescriptionForm, path: str) -> SafeString:
    """The control of one path, with what is wrong with it."""
    return _control(form[path])


@register.simple_tag
def blank_at(form: DescriptionForm, group: str, number: int, name: str) -> SafeString:
    """The control of a value in a list."""
    return _control(form[f"{group}[{number}].{name}"])


def _control(value: BlankValue) -> SafeString:
    given, kind = value.blank, value.blank.kind
    told = format_html(' aria-invalid="true" aria-describedby="{}-wrong"', value.id) if value.problem else SafeString("")
    if kind in ("choice", "flag"):
        words = given.choices or (("yes", "yes"), ("no", "no"))
        options = format_html_join(
            "", '<option value="{}"{}>{}</option>',
            ((key, SafeString(" selected") if key == value.text else "", label) for key, label in words),
        )  # fmt: skip
        control = format_html(
            '<select class="fm-blank" id="{}" name="{}" aria-label="{}"{}>{}</select>',
            value.id, value.name, given.label, told, options,
        )  # fmt: skip
    elif kind == "long":
        control = format_html(
            '<textarea class="fm-text" id="{}" name="{}" aria-label="{}" rows="{}" placeholder="{}"'
            ' spellcheck="false"{}>{}</textarea>',
            value.id, value.name, given.label, value.lines, given.label, told, value.text,
        )  # fmt: skip
    else:
        wide = "" if kind in ("whole", "number", "price") else " fm-blank--text"
        mode = SafeString(' inputmode="decimal"') if not wide else SafeString("")
        control = format_html(
            '<input class="fm-blank{}" id="{}" name="{}" aria-label="{}" value="{}" size="{}"{}{}>',
            wide, value.id, value.name, given.label, value.text, value.width, mode, told,
        )  # fmt: skip
    if not value.problem:
        return control
    return format_html('{} <span class="fm-blank-wrong" id="{}-wrong">{}</span>', control, value.id, value.problem)
