"""python -m server.openapi PATH: write the OpenAPI document the web client is generated from."""

import json
import os
import sys

import django

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
    django.setup()
    from server.api import api

    with open(sys.argv[1], "w", encoding="utf-8") as out:
        json.dump(api.get_openapi_schema(), out, indent=1, sort_keys=True)
