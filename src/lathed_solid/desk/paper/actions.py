"""What can be done on a drawing board, as actions found by name."""

from __future__ import annotations

from collections.abc import Callable

from ...core.issue.drawing.files import FILES
from ..actions import Action
from .board import Board


def paper_actions(board: Callable[[], Board | None]) -> list[Action]:
    """Acts on the ``board`` that is looked at; none can be done while there is none."""

    def there() -> bool:
        return (b := board()) is not None and b.drawing.sheet is not None

    def chosen() -> bool:
        return (b := board()) is not None and bool(b.drawing.pointed.of)

    def viewed() -> bool:
        return (b := board()) is not None and b.drawing.chosen_view is not None

    def faced() -> bool:
        return (b := board()) is not None and b.drawing.has_faces and b.drawing.chosen_view is not None

    def on(act: Callable[[Board], object]) -> Callable[[], object]:
        return lambda: act(b) if (b := board()) is not None else None

    def writing(form: str) -> Callable[[], object]:
        return on(lambda b: b.write(form))

    upright, level = on(lambda b: b.doings.cut_through(True)), on(lambda b: b.doings.cut_through(False))
    bent, about = on(lambda b: b.doings.bend_through()), on(lambda b: b.doings.bend_last_about())
    drop = on(lambda b: b.drawing.drop())
    return [
        Action("issue.upright", "Drawing: section upright through the place", "", upright, "section", viewed),
        Action("issue.level", "Drawing: section level through the place", "", level, "section", viewed),
        Action("issue.bent", "Drawing: section, one half bent through the place", "", bent, "section", viewed),
        Action("issue.axis", "Drawing: axis of the bent section at the place", "", about, "section", viewed),
        Action("issue.detail", "Drawing: detail, larger", "", on(lambda b: b.doings.enlarge()), "", viewed),
        Action("issue.square", "Drawing: square to the face", "", on(lambda b: b.doings.square_to()), "", faced),
        Action("issue.fit", "Drawing: all in sight", "", on(lambda b: b.canvas.fit()), "fit", there),
        Action("issue.remove", "Drawing: take off what is chosen", "", drop, "delete", chosen),
        Action("issue.print", "Print the drawing sheet", "", on(lambda b: b.out.preview()), "", there),
        *(
            Action(f"issue.{form}", f"Write the drawing: {words}", "", writing(form), "export", there)
            for form, words in FILES.items()
        ),
    ]
