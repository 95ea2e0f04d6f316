from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("documents", "0005_folders")]

    operations = [
        migrations.AddField(model_name="copy", name="source", field=models.JSONField(default=None, null=True)),
    ]
