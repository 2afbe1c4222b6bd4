"""The made-up people of the demo: login, name, password, and the project files each starts with."""

PEOPLE = (
    ("imarr", "Isla", "Marr", "corrie-halt-1897", ("corrie-halt.json", "millrace-granary.json", "tarn-lodge.json")),
    ("tberg", "Tomas", "Berg", "millrace-1883", ("millrace-workshop.json",)),
)
