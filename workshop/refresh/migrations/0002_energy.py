
import django.db.models.manager
from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('documents', '0002_kept_as'),
        ('refresh', '0001_schedule_and_benchmark'),
    ]

    operations = [
        migrations.CreateModel(
            name='EnergyDocument',
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
