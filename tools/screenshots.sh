#!/usr/bin/env bash
# Renders docs/screenshots from the demo data, always for the same made-up day.
cd "$(dirname "$0")/.." && source tools/setup.sh
setup run
env TZ=UTC .venv/bin/ravden demo --offscreen docs/screenshots --on 2026-11-24T15:00
.venv/bin/python tools/guide_pictures.py
