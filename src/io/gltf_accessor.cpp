#include "io/gltf_accessor.h"
#include "core/words/say.h"

#define TINYGLTF_NO_STB_IMAGE
#define TINYGLTF_NO_STB_IMAGE_WRITE
#include <tiny_gltf.h>

#include <cmath>
#include <cstring>

namespace hobble {

namespace {

constexpr std::size_t kMostElements = 200'000'000; // no character has more; a damaged count may

struct View {
    const unsigned char* data = nullptr;
    std::size_t stride = 0;
};

// Where `count` elements of `size` bytes lie inside a buffer view, or why they do not.
Result<View> locate(const tinygltf::Model& model, int viewIndex, std::size_t offset, std::size_t count,
                    std::size_t size, const std::string& what) {
    if (viewIndex < 0 || viewIndex >= static_cast<int>(model.bufferViews.size()))
        return Error{say("the %s refer to a buffer view that does not exist", what)};
    const auto& view = model.bufferViews[viewIndex];
    if (view.buffer < 0 || view.buffer >= static_cast<int>(model.buffers.size()))
        return Error{say("the %s refer to a buffer that does not exist", what)};
    const auto& buffer = model.buffers[view.buffer].data;
    const std::size_t stride = view.byteStride ? view.byteStride : size;
    if (view.byteOffset > buffer.size() || view.byteLength > buffer.size() - view.byteOffset)
        return Error{say("the %s lie beyond the end of their buffer (is the file cut short?)", what)};
    if (stride < size)
        return Error{say("the %s overlap each other in their buffer", what)};
    if (count > 0 && (offset > view.byteLength || size > view.byteLength - offset ||
                      (count - 1) > (view.byteLength - offset - size) / stride))
        return Error{
            say("the %s claim %s elements, more than their buffer holds", what, std::to_string(count))};
    return View{buffer.data() + view.byteOffset + offset, stride};
}

double component(const unsigned char* p, int type, bool normalized) {
    auto load = [&]<class T>(T, double scale) {
        T x;
        std::memcpy(&x, p, sizeof x);
        const double value = static_cast<double>(x);
        return normalized && scale > 0 ? std::max(value / scale, -1.0) : value;
    };
    switch (type) {
    case TINYGLTF_COMPONENT_TYPE_BYTE:
        return load(std::int8_t{}, 127);
    case TINYGLTF_COMPONENT_TYPE_UNSIGNED_BYTE:
        return load(std::uint8_t{}, 255);
    case TINYGLTF_COMPONENT_TYPE_SHORT:
        return load(std::int16_t{}, 32767);
    case TINYGLTF_COMPONENT_TYPE_UNSIGNED_SHORT:
        return load(std::uint16_t{}, 65535);
    case TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT:
        return load(std::uint32_t{}, 0);
    default:
        return load(float{}, 0);
    }
}

bool knownType(int type) {
    switch (type) {
    case TINYGLTF_COMPONENT_TYPE_BYTE:
    case TINYGLTF_COMPONENT_TYPE_UNSIGNED_BYTE:
    case TINYGLTF_COMPONENT_TYPE_SHORT:
    case TINYGLTF_COMPONENT_TYPE_UNSIGNED_SHORT:
    case TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT:
    case TINYGLTF_COMPONENT_TYPE_FLOAT:
        return true;
    default:
        return false;
    }
}

// Columns of small matrices are padded to four bytes; the matrices read here are 4 × 4 floats, which never
// are.
Result<std::vector<double>> readNumbers(const tinygltf::Model& model, int index, int components,
                                        const std::string& what) {
    if (index < 0 || index >= static_cast<int>(model.accessors.size()))
        return Error{say("the %s refer to an accessor that does not exist", what)};
    const auto& a = model.accessors[index];
    if (!knownType(a.componentType) || tinygltf::GetNumComponentsInType(a.type) != components)
        return Error{say("the %s are stored in a type that does not fit them", what)};
    if (a.count > kMostElements)
        return Error{say("the %s claim %s elements", what, std::to_string(a.count))};
    const std::size_t bytes = tinygltf::GetComponentSizeInBytes(a.componentType);
    const std::size_t size = bytes * components;

    std::vector<double> out;
    auto put = [&](std::size_t element, const unsigned char* p) {
        for (int c = 0; c < components; ++c)
            out[element * components + c] = component(p + c * bytes, a.componentType, a.normalized);
    };
    if (a.bufferView >= 0) {
        auto view = locate(model, a.bufferView, a.byteOffset, a.count, size, what);
        if (!view)
            return Error{view.error()};
        out.resize(a.count * components);
        for (std::size_t i = 0; i < a.count; ++i)
            put(i, view->data + i * view->stride);
    } else {
        // All zeros, perhaps with sparse exceptions: nothing in the file backs the count, so keep it
        // plausible.
        if (a.count > kMostElements / 10)
            return Error{say("the %s claim %s elements without any data", what, std::to_string(a.count))};
        out.assign(a.count * components, 0.0);
    }
    if (a.sparse.isSparse) {
        if (a.sparse.count < 0 || static_cast<std::size_t>(a.sparse.count) > a.count)
            return Error{say("the %s have more sparse exceptions than elements", what)};
        const auto n = static_cast<std::size_t>(a.sparse.count);
        const int indexType = a.sparse.indices.componentType;
        if (!knownType(indexType))
            return Error{say("the %s have sparse indices of an unknown type", what)};
        const std::size_t indexSize = tinygltf::GetComponentSizeInBytes(indexType);
        if (a.sparse.indices.byteOffset < 0 || a.sparse.values.byteOffset < 0)
            return Error{say("the %s have sparse data at a negative place", what)};
        auto indices =
            locate(model, a.sparse.indices.bufferView, a.sparse.indices.byteOffset, n, indexSize, what);
        if (!indices)
            return Error{indices.error()};
        auto values = locate(model, a.sparse.values.bufferView, a.sparse.values.byteOffset, n, size, what);
        if (!values)
            return Error{values.error()};
        for (std::size_t i = 0; i < n; ++i) {
            const double at = component(indices->data + i * indices->stride, indexType, false);
            if (!(at >= 0 && at < static_cast<double>(a.count)))
                return Error{say("the %s have a sparse index out of range", what)};
            put(static_cast<std::size_t>(at), values->data + i * values->stride);
        }
    }
    return out;
}

} // namespace

Result<std::vector<float>> readFloats(const tinygltf::Model& model, int accessor, int components,
                                      const std::string& what) {
    auto numbers = readNumbers(model, accessor, components, what);
    if (!numbers)
        return Error{numbers.error()};
    std::vector<float> out(numbers->size());
    for (std::size_t i = 0; i < out.size(); ++i) {
        out[i] = static_cast<float>((*numbers)[i]);
        if (!std::isfinite(out[i]))
            return Error{say("the %s hold a number that is not finite (element %s)", what,
                             std::to_string(i / components))};
    }
    return out;
}

Result<std::vector<std::uint32_t>> readIntegers(const tinygltf::Model& model, int accessor, int components,
                                                const std::string& what) {
    auto numbers = readNumbers(model, accessor, components, what);
    if (!numbers)
        return Error{numbers.error()};
    std::vector<std::uint32_t> out(numbers->size());
    for (std::size_t i = 0; i < out.size(); ++i) {
        const double n = (*numbers)[i];
        if (!(n >= 0 && n <= 4294967295.0))
            return Error{say("the %s hold a number that is no index", what)};
        out[i] = static_cast<std::uint32_t>(n);
    }
    return out;
}

} // namespace hobble
