"""Long work, whatever it is about: the newest, how far each is, and a stop."""

from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.tasks.schemas import TaskOut, TaskPath, TasksOut, TasksQuery, show_task
from tobbix.services.tasks import carrying

blueprint = APIBlueprint(
    "tasks",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="tasks", description="Long work, whatever it is about")],
    operation_id_callback=operation_id,
)


@blueprint.get("/tasks", responses={200: TasksOut}, summary="The newest pieces of long work")
@returns()
def list_tasks(query: TasksQuery) -> TasksOut:
    return TasksOut(tasks=[show_task(task) for task in carrying.list_tasks(catalogue().database, query.belongs_to)])


@blueprint.get("/tasks/<int:number>", responses={200: TaskOut}, summary="How far a piece of long work is")
@returns()
def read_task(path: TaskPath) -> TaskOut:
    return show_task(carrying.read_task(catalogue().database, path.number))


@blueprint.post("/tasks/<int:number>/stop", responses={200: TaskOut}, summary="Stop a piece of long work")
@returns()
def stop_task(path: TaskPath) -> TaskOut:
    return show_task(carrying.stop_task(catalogue().database, path.number))
