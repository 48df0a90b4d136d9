-- A digest of the secret that the server used last: to say that it is another one.
CREATE TABLE known_secret (digest TEXT NOT NULL) STRICT;
