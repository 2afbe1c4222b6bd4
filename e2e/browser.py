"""Headless Chromium through ChromeDriver, with the flags a closed machine needs."""

from __future__ import annotations

import atexit
import shutil
import tempfile
from pathlib import Path

from selenium import webdriver
from selenium.webdriver.chrome.service import Service

CHROMIUM, DRIVER = Path("/usr/bin/chromium"), Path("/usr/bin/chromedriver")
FLAGS = (
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-dev-shm-usage",
    "--force-device-scale-factor=1",
    "--hide-scrollbars",
    "--force-prefers-reduced-motion",
)


def open_browser(width: int = 1280, height: int = 800, downloads: Path | None = None) -> webdriver.Chrome:
    """A new browser with an empty profile and exactly this viewport."""
    options = webdriver.ChromeOptions()
    options.binary_location = str(CHROMIUM)
    for flag in FLAGS:
        options.add_argument(flag)
    profile = tempfile.mkdtemp(prefix="wendrick-browser-")
    options.add_argument(f"--user-data-dir={profile}")
    options.add_argument(f"--window-size={width},{height}")
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    if downloads is not None:
        options.add_experimental_option(
            "prefs", {"download.default_directory": str(downloads), "download.prompt_for_download": False}
        )
    driver = webdriver.Chrome(options=options, service=Service(str(DRIVER)))
    atexit.register(shutil.rmtree, profile, True)
    driver.execute_cdp_cmd(
        "Emulation.setDeviceMetricsOverride",
        {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False},
    )
    return driver
