
import django.db.models.manager
from django.db import migrations


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('documents', '0002_kept_as'),
    ]

    operations = [
        migrations.CreateModel(
            name='BenchmarkDocument',
            fields=[
            ],
            options={
                'proxy': True,
                'indexes': [],
                'constraints': [],
            },
            bases=('documents.document',),
            managers=[
                ('objects', django.db.models.manager.Manager()),
                ('everything', django.db.models.manager.Manager()),
            ],
        ),
        migrations.CreateModel(
            name='ScheduleDocument',
            fields=[
            ],
            options={
                'proxy': True,
                'indexes': [],
                'constraints': [],
            },
            bases=('documents.document',),
            managers=[
                ('objects', django.db.models.manager.Manager()),
                ('everything', django.db.models.manager.Manager()),
            ],
        ),
    ]
