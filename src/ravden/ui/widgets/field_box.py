"""What a field of a form is typed or chosen in."""

from PyQt6.QtWidgets import QComboBox, QLineEdit

from ravden.app.forms import Field

LEAST_LETTERS = 8


def field_box(field: Field, letters: int = LEAST_LETTERS) -> QLineEdit | QComboBox:
    """A line, or the choices of the field with the one it starts with; letters: of a choice there is room for."""
    box: QLineEdit | QComboBox
    if field.choices:
        box = QComboBox()
        for value, text in field.choices:
            box.addItem(text, value)
        box.setCurrentIndex(max(box.findData(field.value), 0))
        box.setMinimumContentsLength(letters)
        box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    else:
        box = QLineEdit(field.value)
    box.setAccessibleName(field.label)
    box.setToolTip(field.tip)
    return box
