"""A run belongs to a project, and may be of no option."""

import django.db.models.deletion
from django.db import migrations, models


def of_its_option(apps, schema_editor):
    Run = apps.get_model("runs", "Run")
    Element = apps.get_model("projects", "Element")
    for element, project in Element.objects.values_list("pk", "project_id"):
        Run.objects.filter(option__element_id=element).update(project_id=project)


def without_option(apps, schema_editor):
    """Backwards: a run of no option cannot be kept."""
    apps.get_model("runs", "Run").objects.filter(option=None).delete()


class Migration(migrations.Migration):
    dependencies = [("runs", "0005_behind"), ("projects", "0006_schemes")]

    operations = [
        migrations.AddField(
            "run",
            "project",
            models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.CASCADE, related_name="runs", to="projects.project"
            ),
        ),
        migrations.AlterField(
            "run",
            "option",
            models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.CASCADE, related_name="runs", to="projects.option"
            ),
        ),
        migrations.AlterField("run", "build_up", models.JSONField(default=dict)),
        migrations.AlterField("run", "place", models.JSONField(default=dict)),
        migrations.RunPython(of_its_option, without_option),
        migrations.AlterField(
            "run",
            "project",
            models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="runs", to="projects.project"),
        ),
    ]
