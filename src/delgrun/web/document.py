"""The API's OpenAPI document on standard output: `python -m delgrun.web.document > docs/openapi.json`."""

import sys

from delgrun.jobs.client import Jobs
from delgrun.service.projects import Projects
from delgrun.web.app import create_app, openapi_json


def document() -> bytes:
    """The document; nothing is connected to for it."""
    return openapi_json(create_app(Projects.at("mysql+pymysql://nobody@127.0.0.1/none"), Jobs(), None))


if __name__ == "__main__":
    sys.stdout.buffer.write(document())
