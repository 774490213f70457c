"""The style sheet of the plain controls, from roles and text size."""

from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme


def style_sheet(t: Theme) -> str:
    """Hairlines and paper tones; no shadows, no gradients, corners of 2 px."""
    high = fonts.scaled(26)
    return f"""
    * {{ font-family: "{fonts.TEXT}"; font-size: {fonts.scaled(14)}px; color: {t.ink}; }}
    QMainWindow, QWidget#sheet {{ background: {t.sheet}; }}
    QWidget#panel, QWidget#steps, QWidget#status {{ background: {t.panel}; }}
    QWidget#list {{ background: {t.list}; }}
    QWidget#rules {{ background: {t.rule}; }}
    QLineEdit#designName {{ font-family: "{fonts.BOOK}"; font-size: {fonts.scaled(21)}px; background: transparent; border: none; padding: 0; min-height: {fonts.scaled(30)}px; max-height: {fonts.scaled(30)}px; }}
    QWidget#rail {{ background: {t.desk}; }}
    QToolTip {{ background: {t.field}; color: {t.ink}; border: 1px solid {t.edge}; padding: 4px; }}
    QLineEdit, QComboBox, QPlainTextEdit {{ background: {t.field}; border: 1px solid {t.edge}; border-radius: 2px;
        padding: 1px 6px; selection-background-color: {t.ink}; selection-color: {t.field}; placeholder-text-color: {t.quiet}; }}
    QLineEdit, QComboBox {{ min-height: {high - 4}px; max-height: {high - 4}px; }}
    QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus {{ border: 2px solid {t.indigo}; padding: 0px 5px; }}
    QLineEdit[fault="true"] {{ border: 2px solid {t.oxide}; }}
    QComboBox::drop-down {{ border: none; width: 18px; }}
    QComboBox::down-arrow {{ image: none; width: 0px; height: 0px; }}
    QComboBox QAbstractItemView {{ background: {t.field}; border: 1px solid {t.edge}; selection-background-color: {t.moss_tint};
        selection-color: {t.ink}; outline: none; }}
    QPushButton {{ background: {t.field}; border: 1px solid {t.edge}; border-radius: 2px; padding: 3px 12px; min-height: {high - 8}px; }}
    QPushButton:hover {{ border-color: {t.moss}; }}
    QPushButton:focus {{ border: 2px solid {t.indigo}; padding: 2px 11px; }}
    QPushButton:checked {{ background: {t.ink}; color: {t.sheet}; border-color: {t.ink}; }}
    QPushButton[main="true"] {{ background: {t.moss}; color: {t.sheet}; border-color: {t.moss}; font-weight: bold; padding: 4px 12px; }}
    QPushButton[main="true"]:focus {{ border: 2px solid {t.indigo}; padding: 3px 11px; }}
    QPushButton[link="true"] {{ background: transparent; border: none; color: {t.moss}; text-decoration: underline; padding: 0; text-align: left; }}
    QPushButton[link="true"]:focus {{ border: 2px solid {t.indigo}; }}
    QPushButton:disabled, QLineEdit:disabled, QComboBox:disabled, QCheckBox:disabled {{ color: {t.quiet}; background: {t.panel}; border-color: {t.rule}; }}
    QPushButton[main="true"]:disabled {{ color: {t.quiet}; background: {t.panel}; border: 1px dashed {t.edge}; font-weight: normal; }}
    QPushButton[link="true"]:disabled {{ color: {t.quiet}; background: transparent; text-decoration: none; }}
    QCheckBox {{ spacing: 6px; }}
    QCheckBox::indicator {{ width: 13px; height: 13px; border: 1px solid {t.edge}; background: {t.field}; }}
    QCheckBox::indicator:checked {{ background: {t.moss}; border: 3px solid {t.field}; outline: 1px solid {t.edge}; }}
    QCheckBox:focus {{ color: {t.indigo}; }}
    QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: none; }}
    QScrollBar:vertical {{ background: transparent; width: 10px; margin: 0; }}
    QScrollBar::handle:vertical {{ background: {t.edge}; min-height: 30px; border-radius: 2px; margin: 1px 2px; }}
    QScrollBar:horizontal {{ background: transparent; height: 10px; margin: 0; }}
    QScrollBar::handle:horizontal {{ background: {t.edge}; min-width: 30px; border-radius: 2px; margin: 2px 1px; }}
    QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page {{ background: none; border: none; width: 0; height: 0; }}
    QListView, QTableView, QTreeView {{ background: transparent; border: none; outline: none; selection-background-color: {t.moss_tint};
        selection-color: {t.ink}; alternate-background-color: {t.panel}; }}
    QTableView {{ gridline-color: {t.rule}; }}
    QTableView::item {{ padding: 0 6px; border-bottom: 1px solid {t.rule}; }}
    QHeaderView {{ background: {t.sheet}; }}
    QHeaderView::section {{ background: {t.sheet}; color: {t.quiet}; border: none; border-bottom: 1px solid {t.edge}; padding: 3px 8px;
        font-size: {fonts.scaled(13)}px; text-align: left; }}
    QTableCornerButton::section {{ background: {t.sheet}; border: none; }}
    QLabel[quiet="true"] {{ color: {t.quiet}; font-size: {fonts.scaled(13)}px; }}
    QMenu {{ background: {t.field}; border: 1px solid {t.edge}; }}
    QMenu::item {{ padding: 4px 22px; }}
    QMenu::item:selected {{ background: {t.moss_tint}; color: {t.ink}; }}
    QSlider::groove:horizontal {{ height: 2px; background: {t.rule}; }}
    QSlider::sub-page:horizontal {{ background: {t.moss_fill}; }}
    QSlider::handle:horizontal {{ background: {t.field}; border: 2px solid {t.ink}; width: 9px; margin: -7px 0; border-radius: 1px; }}
    QSlider:focus::handle:horizontal {{ border-color: {t.indigo}; }}
    """
