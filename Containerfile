# The command line with every extra:  podman build -t yuzen .
# podman run --rm -v "$PWD:/work" yuzen draw routes.toml
FROM docker.io/library/python:3.13-slim AS build
COPY . /source
RUN pip install --no-cache-dir --prefix /installed "/source[all]"

FROM docker.io/library/python:3.13-slim
COPY --from=build /installed /usr/local
RUN useradd --uid 65532 --create-home analyst
USER 65532
WORKDIR /work
ENTRYPOINT ["yuzen"]
